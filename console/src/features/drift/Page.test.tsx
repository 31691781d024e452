// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { show } from '../../shared/testing/page';
import { no } from '../../shared/testing/samples';
import DriftPage from './Page';

const yes: Schemas['MayView'] = { allowed: true, why: '', who: [] };
const since = '2027-03-01T08:00:00Z';
const PEAK = 'records/fares.band#row/"PEAK"';
const NIGHT = 'records/fares.band#row/"NIGHT"';

const line = (place: string, how: string, more: Partial<Schemas['LineView']> = {}): Schemas['LineView'] => ({
  place,
  component: place.split('#')[0] ?? place,
  how,
  attributes: [],
  valuesHidden: false,
  since,
  ...more,
});

const drift = (more: Partial<Schemas['DriftView']> = {}): Schemas['DriftView'] => ({
  application: 'fares',
  site: 'production/north',
  version: '2.6.1',
  stageName: 'Production',
  production: true,
  owner: 'Harbour office',
  lookedAt: since,
  rowsLookedAt: since,
  reachable: true,
  all: 3,
  listed: 3,
  groups: [
    { component: 'records/fares.band', changed: 1, gone: 0, onlyThere: 1, run: 'R-7' },
    { component: 'rule/fares.peak', changed: 0, gone: 1, onlyThere: 0 },
  ],
  items: [
    line(PEAK, 'changed', {
      attributes: [
        { name: 'amount', present: '99.00', incoming: '25.00', presentAbsent: false, incomingAbsent: false },
      ],
    }),
    line(NIGHT, 'only-there'),
    line('rule/fares.peak', 'gone'),
  ],
  left: [],
  may: { putBack: yes, leave: yes, take: yes },
  ...more,
});

const at = '/api/v1/records/fares/production/north';

const open = (answer: Schemas['DriftView'], more: Record<string, unknown> = {}) =>
  show(
    <DriftPage />,
    {
      [`GET ${at}/drift`]: answer,
      [`POST ${at}/put-back`]: { number: 'P-9' },
      [`POST ${at}/drift/take`]: { id: 'D-4' },
      [`POST ${at}/drift/leave`]: {},
      [`POST ${at}/drift/leave-no-more`]: {},
      ...more,
    },
    '/drift/fares/production/north',
    '/drift/:application/:stage/:site',
  );

const where = () => screen.getByLabelText('where').textContent;

test('what is recorded stands beside what is there, with whom to ask and which run wrote it', async () => {
  open(drift());

  const table = await screen.findByRole('table', { name: /PEAK/ });
  const cells = within(table)
    .getAllByRole('cell')
    .map((c) => c.textContent);
  expect(cells).toEqual(['amount', '25.00', '99.00']);
  expect(
    within(table)
      .getAllByRole('columnheader')
      .map((h) => h.textContent),
  ).toEqual(['Attribute', 'Recorded', 'There']);
  expect(screen.getByText('Harbour office')).toBeTruthy();
  expect(screen.getByRole('link', { name: 'R-7' }).getAttribute('href')).toBe('/runs/R-7');
});

test('with nothing chosen all that is recorded is put back', async () => {
  const { sent, person } = open(drift());

  await person.click(await screen.findByRole('button', { name: 'Put back all that is recorded' }));

  await waitFor(() => expect(where()).toBe('/promotions/P-9'));
  expect(sent[0]?.body).toEqual({ only: [], away: [] });
});

test('what is chosen is put back, and what is only there goes when it is chosen', async () => {
  const { sent, person } = open(drift());

  await person.click(await screen.findByRole('checkbox', { name: /PEAK/ }));
  await person.click(screen.getByRole('checkbox', { name: /NIGHT/ }));
  await person.click(screen.getByRole('button', { name: 'Put back 1, take away 1' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ only: [PEAK], away: [NIGHT] }));
});

test('choosing a component chooses its recorded parts, not what is only there', async () => {
  const { sent, person } = open(drift());

  await person.click(await screen.findByRole('checkbox', { name: 'All that is recorded of records/fares.band' }));
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /PEAK/ }).checked).toBe(true);
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /NIGHT/ }).checked).toBe(false);
  await person.click(screen.getByRole('button', { name: 'Put back 1' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ only: ['records/fares.band'], away: [] }));
});

test('leaving asks for a reason and a day', async () => {
  const { sent, person } = open(drift());

  await person.click(await screen.findByRole('checkbox', { name: /PEAK/ }));
  const leave = screen.getByRole('button', { name: 'Leave as it is' });
  expect(leave.getAttribute('aria-disabled')).toBe('true');
  await person.type(screen.getByLabelText('Why it stays'), 'agreed');
  await person.type(screen.getByLabelText('Until'), '2027-03-31');
  await person.click(leave);

  await waitFor(() => expect(sent[0]?.body).toEqual({ places: [PEAK], reason: 'agreed', until: '2027-03-31' }));
});

test('what is chosen becomes a draft', async () => {
  const { person } = open(drift());

  await person.click(await screen.findByRole('checkbox', { name: /PEAK/ }));
  await person.click(screen.getByRole('button', { name: 'Take into a draft' }));

  await waitFor(() => expect(where()).toBe('/drafts/D-4'));
});

test('who may not says so at each act', async () => {
  open(drift({ may: { putBack: no('right', 'You may not prepare there.'), leave: no('right', 'no'), take: yes } }));

  expect(await screen.findByText(/You may not prepare there/)).toBeTruthy();
});

test('nothing is said to be equal that nobody looked at', async () => {
  open(drift({ all: 0, listed: 0, groups: [], items: [], lookedAt: undefined, rowsLookedAt: undefined }));

  expect(await screen.findByText('Nobody has looked yet.')).toBeTruthy();
  expect(screen.queryByText(/Nothing that Plenzo looked at/)).toBeNull();
  expect(screen.queryByRole('button', { name: /Put back/ })).toBeNull();
});

test('a site that is not reachable shows what was found before', async () => {
  open(drift({ reachable: false }));

  expect(await screen.findByText(/not reachable now/)).toBeTruthy();
  expect(screen.getByRole('checkbox', { name: /PEAK/ })).toBeTruthy();
});

test('what is left is listed and can be taken back', async () => {
  const { sent, person } = open(
    drift({ left: [{ place: PEAK, reason: 'agreed', by: 'tove', at: since, until: '2027-03-31' }] }),
  );

  await person.click(await screen.findByRole('button', { name: /Leave it no more: .*PEAK/ }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ places: [PEAK] }));
});

test('rows whose keys may not be seen are settled by their component', async () => {
  open(drift({ items: [line('records/fares.band#row/…', 'changed', { valuesHidden: true })], all: 1, listed: 1 }));

  expect((await screen.findByRole<HTMLInputElement>('checkbox', { name: 'Choose row …' })).disabled).toBe(true);
  expect(screen.getByText(/you may not see values/)).toBeTruthy();
});

test('what was left on purpose alone is not put back without being chosen', async () => {
  const { person } = open(
    drift({ items: [line(PEAK, 'changed', { settled: 'left' }), line(NIGHT, 'only-there')], all: 2, listed: 2 }),
  );

  const all = await screen.findByRole('button', { name: 'Put back all that is recorded' });
  expect(all.getAttribute('aria-disabled')).toBe('true');
  await person.click(screen.getByRole('checkbox', { name: /PEAK/ }));
  expect(screen.getByRole('button', { name: 'Put back 1' }).getAttribute('aria-disabled')).toBe('false');
});
