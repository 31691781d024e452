// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { rule } from './Onward';
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
  'GET /api/v1/calendar': { stages: [stage], schedules: [], runs: [], repeats: [], clashes: [] },
  'GET /api/v1/repeats': [],
  'GET /api/v1/errands': [],
  'GET /api/v1/applications': [{ key: 'fares', name: 'Fares' }],
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

const repeat = {
  number: 'RP-2',
  application: 'fares',
  path: 'ordinary',
  stage: 'test',
  rule: 'FREQ=DAILY;BYHOUR=2;BYMINUTE=30',
  ends: '2027-12-01T00:00:00Z',
  by: 'ines',
  state: 'active',
  next: '2026-12-01T02:30:00Z',
  sentence: '',
  mayEnd: true,
};

test('what comes again is listed with whose rights it goes by, and ended', async () => {
  const { sent, person } = show(<CalendarPage />, {
    ...server,
    'GET /api/v1/repeats': [repeat, { ...repeat, number: 'RP-1', state: 'ended' }],
    'POST /api/v1/repeats/RP-2/end': { ...repeat, state: 'ended' },
  });
  expect(await screen.findByText(/by the rights of ines/)).toBeTruthy();
  expect(screen.queryByText('RP-1')).toBeNull();

  await person.click(await screen.findByRole('button', { name: /^End RP-2/ }));
  await waitFor(() => expect(sent.map((s) => s.what)).toContain('POST /api/v1/repeats/RP-2/end'));
});

test.each([
  ['daily', '02:30', 'FREQ=DAILY;BYHOUR=2;BYMINUTE=30'],
  ['TH', '22:05', 'FREQ=WEEKLY;BYDAY=TH;BYHOUR=22;BYMINUTE=5'],
])('a rule of %s at %s', (day, time, expected) => {
  expect(rule(day, time)).toBe(expected);
});

test('what is on its way says why, what it waits for, and is stopped', async () => {
  const errand = {
    number: 'ER-3',
    cause: '2.4.0 was sealed',
    application: 'fares',
    version: '2.4.0',
    site: 'test/main',
    how: 'run',
    by: 'ines',
    made: '2026-12-01T02:30:00Z',
    state: 'waiting',
    promotion: 'P-9',
    sentence: 'approval 0 of 1',
    mayStop: true,
  };
  const { sent, person } = show(<CalendarPage />, {
    ...server,
    'GET /api/v1/errands': [errand],
    'POST /api/v1/errands/ER-3/stop': { ...errand, state: 'stopped' },
  });
  expect(await screen.findByText('2.4.0 was sealed; by the rights of ines')).toBeTruthy();
  expect(screen.getByText(/approval 0 of 1/)).toBeTruthy();

  await person.click(await screen.findByRole('button', { name: /^Stop ER-3/ }));
  await waitFor(() => expect(sent.map((s) => s.what)).toContain('POST /api/v1/errands/ER-3/stop'));
});

test('the address for calendar programs is shown once it is made', async () => {
  const { person } = show(<CalendarPage />, {
    ...server,
    'POST /api/v1/calendar/feeds': {
      id: 'a',
      address: '/api/v1/feeds/S3/calendar.ics',
      expiresAt: '2027-12-01T00:00:00Z',
    },
  });
  await person.type(await screen.findByLabelText('What it is for'), 'My phone');
  await person.click(screen.getByRole('button', { name: /^Make an address/ }));

  expect(await screen.findByText(/feeds\/S3\/calendar\.ics/)).toBeTruthy();
});

test('what cannot be as it is planned stands on its own', async () => {
  show(<CalendarPage />, {
    ...server,
    'GET /api/v1/calendar': {
      ...server['GET /api/v1/calendar'],
      clashes: [{ at: '2026-12-24T21:00:00Z', stage: 'production', what: 'SC-2', words: 'then it is frozen' }],
    },
  });
  expect(await screen.findByText(/SC-2 then it is frozen/)).toBeTruthy();
});
