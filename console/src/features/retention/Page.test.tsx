// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import RetentionPage from './Page';

const rules = { days: { backup: 90 }, daily: false, words: 'backups 90 days, the rest for ever; cleared when asked' };
const preview = {
  rules,
  old: [
    {
      id: 'backup/R-1',
      sort: 'backup',
      of: 'fares 2.3.0 at production/north',
      at: '2027-01-01T00:00:00Z',
      bytes: 2_000,
      goes: true,
      why: 'more than 90 days old',
    },
    {
      id: 'backup/R-9',
      sort: 'backup',
      of: 'fares 2.4.0 at production/north',
      at: '2027-01-02T00:00:00Z',
      bytes: 900,
      goes: false,
      why: 'the way back of fares at production/north to 2.3.0 needs it',
    },
  ],
  young: 3,
  counted: '1 backup',
  bytes: 2_000,
  digest: 'abc',
};
const MAY = { allowed: true, why: '', who: [] };
const server = {
  'GET /api/v1/session/may': MAY,
  'GET /api/v1/retention': rules,
  'GET /api/v1/retention/preview': preview,
  'GET /api/v1/retention/notes': [
    { subject: 'R-2', reason: 'The harbour asks', by: 'ines', at: '2027-01-01T00:00:00Z' },
  ],
};

test('what would go and what stays is listed with the reason, and only that list is cleared, on a word', async () => {
  const { sent, person } = show(<RetentionPage />, {
    ...server,
    'POST /api/v1/retention/clear': { ...preview, old: [], young: 4 },
  });

  const table = await screen.findByRole('table', { name: 'What would go' });
  expect(within(table).getByText('the way back of fares at production/north to 2.3.0 needs it')).toBeTruthy();
  const act = screen.getByRole('button', { name: 'Clear 1 backup for good' });
  expect(act.getAttribute('aria-disabled') ?? act.getAttribute('disabled')).not.toBeNull();

  await person.type(screen.getByLabelText('Type clear to go on'), 'clear');
  await person.click(screen.getByRole('button', { name: 'Clear 1 backup for good' }));
  await waitFor(() => expect(sent).toEqual([{ what: 'POST /api/v1/retention/clear', body: { expect: 'abc' } }]));
  expect(await screen.findByText('Cleared: 1 backup, 2.0 kB.')).toBeTruthy();
});

test('a list that is another by now is said, and nothing is cleared', async () => {
  const { person } = show(<RetentionPage />, {
    ...server,
    'POST /api/v1/retention/clear': new Refused(412, {
      code: 'LIST',
      detail: 'What would go is another list now: nothing.',
      next: [],
    }),
  });
  await person.type(await screen.findByLabelText('Type clear to go on'), 'clear');
  await person.click(screen.getByRole('button', { name: 'Clear 1 backup for good' }));

  expect(await screen.findByText(/What would go is another list now/)).toBeTruthy();
});

test('rules are set by days, and what is left empty stays for ever', async () => {
  const { sent, person } = show(<RetentionPage />, { ...server, 'PUT /api/v1/retention': rules });

  await person.type(await screen.findByLabelText('Logs of runs: days'), '30');
  await person.click(screen.getByRole('checkbox', { name: /each day/ }));
  await person.click(screen.getByRole('button', { name: 'Set these rules' }));

  await waitFor(() =>
    expect(sent).toEqual([{ what: 'PUT /api/v1/retention', body: { days: { backup: 90, log: 30 }, daily: true } }]),
  );
});

test('days that are no number are not sent', async () => {
  const { sent, person } = show(<RetentionPage />, server);
  await person.type(await screen.findByLabelText('Logs of runs: days'), 'x');
  await person.click(screen.getByRole('button', { name: 'Set these rules' }));

  expect(screen.getByText('Days are whole numbers from 1 to 36500.')).toBeTruthy();
  expect(sent).toEqual([]);
});

test('a note keeps something, and is ended', async () => {
  const { sent, person } = show(<RetentionPage />, {
    ...server,
    'PUT /api/v1/retention/notes': {},
    'DELETE /api/v1/retention/notes': null,
  });
  await person.type(await screen.findByLabelText('Run, promotion, package, copy, evidence or version'), 'R-7');
  await person.type(screen.getByLabelText('Why does it stay?'), 'Asked');
  await person.click(screen.getByRole('button', { name: 'Keep it' }));
  await waitFor(() =>
    expect(sent[0]).toEqual({ what: 'PUT /api/v1/retention/notes', body: { subject: 'R-7', reason: 'Asked' } }),
  );

  await person.click(screen.getByRole('button', { name: 'Let R-2 go' }));
  await waitFor(() => expect(sent[1]?.what).toBe('DELETE /api/v1/retention/notes'));
});
