// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import CalendarPage from './Page';

const stage = {
  stage: 'production',
  name: 'Production',
  zone: 'UTC',
  production: true,
  rules: [],
  windows: [],
  freezes: [],
};
const frozen = {
  number: 'FZ-2',
  stage: 'production',
  from: '2026-12-20T00:00:00Z',
  until: '2027-01-04T06:00:00Z',
  reason: 'Year’s end',
  except: ['boarding'],
  by: 'ines',
  over: false,
};
const server = {
  'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  'GET /api/v1/stages': [{ key: 'production', name: 'Production', sites: [] }],
  'GET /api/v1/calendar': { stages: [stage], schedules: [], runs: [] },
  'GET /api/v1/freezes': [frozen],
  'POST /api/v1/freezes/FZ-2/lift': { ...frozen, over: true },
};

test('a week with nothing in it says that runs may start at any time', async () => {
  show(<CalendarPage />, server);

  expect(await screen.findByText(/Nothing in this week/)).toBeTruthy();
  expect(await screen.findByText('at any time')).toBeTruthy();
});

test('a freeze is lifted with a reason, and not without', async () => {
  const { sent, person } = show(<CalendarPage />, server);
  expect(await screen.findByText(/but for boarding/)).toBeTruthy();
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());

  await person.click(screen.getByRole('button', { name: /^Lift FZ-2/ }));
  expect(sent).toHaveLength(0);
  await person.type(screen.getByLabelText('Why FZ-2 is lifted'), 'Agreed');
  await person.click(screen.getByRole('button', { name: /^Lift FZ-2/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({ what: 'POST /api/v1/freezes/FZ-2/lift', body: { reason: 'Agreed' } });
});
