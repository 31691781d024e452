// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { show } from '../../shared/testing/page';
import { promotion } from '../../shared/testing/samples';
import { ComparisonPart } from './ComparisonPart';

const counts = { added: 0, changed: 0, removed: 0, conflict: 0, kept: 0, same: 0 };
const attribute = (name: string, base: string, present: string, incoming: string): Schemas['AttributeChange'] => ({
  name,
  present,
  incoming,
  presentAbsent: false,
  incomingAbsent: false,
  base: { value: base, absent: false },
});

const rule: Schemas['ComponentChange'] = {
  index: 0,
  key: 'rule/fares.peak',
  difference: 'conflict',
  counts: { ...counts, conflict: 1 },
  parts: [
    {
      part: 'content/',
      difference: 'conflict',
      attributes: [attribute('factor', '1', '5', '1'), attribute('title', 'Peak', 'Peak', 'Peak fare')],
      mayTakeBoth: true,
    },
  ],
};
const records: Schemas['ComponentChange'] = {
  index: 0,
  key: 'records/fares.band',
  difference: 'conflict',
  counts: { ...counts, conflict: 1, same: 2 },
  parts: [],
};
const row: Schemas['RowChange'] = {
  key: '"PEAK"',
  difference: 'conflict',
  attributes: [attribute('amount', '20', '21', '20'), attribute('note', 'a', 'a', 'b')],
  valuesHidden: false,
  both: [
    { name: 'amount', value: '21' },
    { name: 'note', value: 'b' },
  ],
};

const open = (c: Schemas['ComponentChange'], rows: Schemas['RowChange'][] = []) =>
  show(
    <ComparisonPart
      p={promotion({
        compared: { ...promotion().compared, counts: { ...counts, conflict: 1 }, components: [c] },
        may: { ...promotion().may, decide: { allowed: true, why: '', who: [] } },
      })}
    />,
    {
      'GET /api/v1/promotions/P-7/rows': { items: rows, total: rows.length },
      'POST /api/v1/promotions/P-7/decide': promotion(),
    },
  );

test('what both had before stands beside what is there and what comes', async () => {
  open(rule);

  const table = await screen.findByRole('table', { name: /content/ });
  expect(within(table).getByText('Before both')).toBeTruthy();
  const cells = within(table).getAllByRole('row')[1]?.textContent;
  expect(cells).toBe('factor151');
});

test('both can be taken of a definition whose members each side moved apart', async () => {
  const { person, sent } = open(rule);

  await person.click(await screen.findByRole('button', { name: 'Take both' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ decisions: { 'rule/fares.peak': 'take-both' } }));
});

test('it is not offered where both moved the same', async () => {
  open({ ...rule, parts: [{ ...rule.parts[0]!, mayTakeBoth: false }] });

  expect(await screen.findByRole('button', { name: 'Keep' })).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Take both' })).toBeNull();
});

test('a row is shown as it would be with both', async () => {
  const { person, sent } = open(records, [row]);

  const table = await screen.findByRole('table', { name: /PEAK/ });
  expect(within(table).getByText('Both together')).toBeTruthy();
  expect(within(table).getAllByRole('row')[1]?.textContent).toBe('amount20212021');
  await person.click(screen.getByRole('button', { name: 'Take both' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ decisions: { 'records/fares.band#row/"PEAK"': 'take-both' } }));
});

test('what is the same is shown only when somebody wants it', async () => {
  const { person, asked } = open(records, [row]);
  await screen.findByRole('table', { name: /PEAK/ });
  expect(asked.some((a) => a.includes('difference=same'))).toBe(false);

  await person.click(screen.getByRole('switch', { name: 'Show what is the same' }));

  await waitFor(() => expect(asked.some((a) => a.includes('difference=same') && a.includes('all=true'))).toBe(true));
});

test('a member that both moved is decided alone, and the rest with it', async () => {
  const clash = attribute('factor', '1', '5', '6');
  const { person, sent } = open({
    ...rule,
    parts: [{ ...rule.parts[0]!, mayTakeBoth: false, attributes: [clash, ...rule.parts[0]!.attributes.slice(1)] }],
  });

  const asked = await screen.findByRole('group', { name: /rule\/fares.peak#member\/factor/ });
  expect(screen.queryByRole('group', { name: /#member\/title/ })).toBeNull();
  await person.click(within(asked).getByRole('button', { name: 'Keep' }));

  await waitFor(() =>
    expect(sent[0]?.body).toEqual({
      decisions: { 'rule/fares.peak': 'take-both', 'rule/fares.peak#member/factor': 'keep' },
    }),
  );
});
