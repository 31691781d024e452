// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { CallOrder } from '../../shared/news/CallOrder';
import { Following } from '../../shared/news/Following';
import { show } from '../../shared/testing/page';
import NewsPage from './Page';

const notice = {
  entry: 41,
  at: '2027-03-01T02:10:00Z',
  actor: 'plenzo',
  event: 'half written',
  news: 'urgent',
  application: 'fares',
  stage: 'production',
  site: 'north',
  version: '2.4.0',
  promotion: 'P-7',
  run: 'R-9',
  text: 'database keeps 2.4.0',
  fresh: true,
};
const call = {
  number: 'CL-3',
  stage: 'production',
  application: 'fares',
  site: 'north',
  run: 'R-9',
  cause: 'Half written: database keeps 2.4.0',
  made: '2027-03-01T02:10:00Z',
  told: [{ login: 'bram', at: '2027-03-01T02:10:00Z', words: 'by mail to bram@morrowick.example' }],
  next: '2027-03-01T02:20:00Z',
  state: 'open',
};
const following = {
  mail: '',
  stages: [],
  applications: [],
  news: ['urgent', 'failed'],
  sorts: ['urgent', 'failed', 'asked'],
  zone: 'UTC',
  byMail: true,
};
const server = {
  'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  'GET /api/v1/stages': [{ key: 'production', name: 'Production', sites: [] }],
  'GET /api/v1/applications': [{ key: 'fares', name: 'Fares' }],
  'GET /api/v1/notices': { items: [notice, { ...notice, entry: 40, event: 'run done', fresh: false }] },
  'GET /api/v1/notices/following': following,
  'GET /api/v1/calls': [],
};

test('what is new says so, leads to its run, and is seen with one word', async () => {
  const { sent, person } = show(<NewsPage />, {
    ...server,
    'POST /api/v1/notices/seen': { count: 0, more: false, urgent: false },
  });
  const row = (await screen.findByText('half written')).closest('tr')!;
  expect(within(row).getByText('new')).toBeTruthy();
  expect(screen.getByText('half written').closest('a')!.getAttribute('href')).toBe('/runs/R-9');
  expect(screen.getAllByText('new')).toHaveLength(1);

  await person.click(screen.getByRole('button', { name: /^I have seen all of it/ }));
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({ what: 'POST /api/v1/notices/seen', body: { entry: 41 } });
});

test('a call stands first, with whom it reached, until somebody comes', async () => {
  const { sent, person } = show(<NewsPage />, {
    ...server,
    'GET /api/v1/calls': [call, { ...call, number: 'CL-2', state: 'over' }],
    'POST /api/v1/calls/CL-3/take': { ...call, state: 'taken', by: 'bram' },
  });
  expect(await screen.findByText('bram: by mail to bram@morrowick.example')).toBeTruthy();
  expect(screen.queryByText(/CL-2/)).toBeNull();
  expect(screen.getByText(call.cause).closest('a')!.getAttribute('href')).toBe('/runs/R-9/night');

  await person.click(screen.getByRole('button', { name: /^I come: CL-3/ }));
  await waitFor(() => expect(sent.map((s) => s.what)).toContain('POST /api/v1/calls/CL-3/take'));
});

test('that nobody is left to be called is said', async () => {
  show(<NewsPage />, { ...server, 'GET /api/v1/calls': [{ ...call, next: null }] });
  expect(await screen.findByText('Nobody is left to be called.')).toBeTruthy();
});

test('what one follows is ticked and kept', async () => {
  const { sent, person } = show(<Following />, { ...server, 'PUT /api/v1/notices/following': following });
  await person.click(await screen.findByLabelText('Somebody is asked for something'));
  await person.click(screen.getByLabelText('Something did not come through'));
  await person.type(screen.getByLabelText('Mail address'), 'bram@morrowick.example');
  await person.click(screen.getByRole('button', { name: /^Follow this/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]!.body).toMatchObject({ news: ['urgent', 'asked'], mail: 'bram@morrowick.example' });
});

test('without a mail server no letter can be tried, and the reason is said', async () => {
  const { sent, person } = show(<Following />, {
    ...server,
    'GET /api/v1/notices/following': { ...following, byMail: false },
  });
  await person.click(await screen.findByRole('button', { name: /^Send me a letter now/ }));
  expect(await screen.findByText(/no mail server/)).toBeTruthy();
  expect(sent).toHaveLength(0);
});

test('the list of who is called grows at its end, by the revision that was seen', async () => {
  const bram = { login: 'bram', how: '+47 555 0142', minutes: 10 };
  const { sent, person } = show(<CallOrder stage="production" />, {
    ...server,
    'GET /api/v1/stages/production/calls': { callees: [bram], revision: 4 },
    'PUT /api/v1/stages/production/calls': { callees: [bram], revision: 5 },
  });
  expect(await screen.findByText('+47 555 0142')).toBeTruthy();
  await person.type(screen.getByLabelText('Who'), 'ines');
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.click(screen.getByRole('button', { name: /^Add to the list/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]!.body).toMatchObject({ revision: 4, callees: [bram, { login: 'ines', minutes: 15 }] });
});
