// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { run } from '../../shared/testing/samples';
import { Refused, show } from '../../shared/testing/page';
import { SheetPart } from './SheetPart';

const readBack = run({
  steps: [{ number: 1, name: 'Read back', state: 'done', note: 'as planned' }],
});

const sheet = (more: Partial<Schemas['SheetView']> = {}): Schemas['SheetView'] => ({
  run: 'R-7',
  at: '2027-03-02T22:00:00Z',
  asPlanned: true,
  lines: [
    {
      component: 'rule/fares.peak',
      where: 'production/main host',
      planned: 'changed',
      asPlanned: true,
      found: 'there',
      active: false,
      visible: false,
      unbound: ['terminal'],
      by: 'bo',
      changed: '2027-03-02T21:59:00Z',
    },
  ],
  more: 0,
  odd: [],
  uncarried: ['trigger fares.audit on fares.band'],
  ...more,
});

const answers = (s: unknown) => ({ 'GET /api/v1/runs/R-7/sheet': s });

test('what was planned, what is there, and whether it works stand beside one another', async () => {
  show(<SheetPart r={readBack} />, answers(sheet()));

  expect((await screen.findByRole('row', { name: /rule\/fares\.peak/ })).textContent).toMatch(
    /changedthereAs plannedoff, not visible, without a value: terminal/,
  );
  expect(screen.getByText(/Everything that was looked at is as planned/)).toBeTruthy();
  expect(screen.getByText(/not carried: trigger fares\.audit on fares\.band/)).toBeTruthy();
});

test('rows are neither on nor off', async () => {
  const rows = {
    ...sheet().lines[0],
    component: 'records/fares.band',
    found: '3 rows',
    active: null,
    visible: null,
    unbound: [],
    by: null,
    changed: null,
  };
  show(<SheetPart r={readBack} />, answers({ ...sheet(), lines: [rows] }));

  expect((await screen.findByRole('row', { name: /records\/fares\.band/ })).textContent).toBe(
    'records/fares.bandchanged3 rowsAs plannedproduction/main host',
  );
});

test('what is not as planned comes first', async () => {
  show(<SheetPart r={readBack} />, answers(sheet({ asPlanned: false, odd: ['table fares.extra is there'], more: 12 })));

  expect(await screen.findByText('table fares.extra is there')).toBeTruthy();
  expect(screen.getByText(/Not everything is as planned/)).toBeTruthy();
  expect(screen.getByText('and 12 more')).toBeTruthy();
});

test('before the site was read back nothing is asked and nothing said', () => {
  const { asked } = show(<SheetPart r={run()} />, answers(sheet()));

  expect(screen.queryByText('What is there')).toBeNull();
  expect(asked).toEqual([]);
});

test('a site that was not read back says so', async () => {
  show(
    <SheetPart r={readBack} />,
    answers(new Refused(409, { code: 'NOT_READ_BACK', detail: 'R-7 did not read its site back.', next: [] })),
  );

  expect(await screen.findByText(/R-7 did not read its site back/)).toBeTruthy();
});
