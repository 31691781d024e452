// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { no, run } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import RunPage from './Page';

const open = (r: Schemas['RunView'], more = {}) =>
  show(
    <RunPage />,
    { 'GET /api/v1/runs/R-7': r, 'GET /api/v1/runs/R-7/log': { lines: [] }, ...more },
    '/runs/R-7',
    '/runs/:number',
  );

const done = (more: Partial<Schemas['RunView']> = {}) =>
  run({
    state: 'done',
    ended: true,
    times: { queuedAt: '2027-03-01T08:00:00Z', startedAt: '2027-03-01T08:00:01Z', endedAt: '2027-03-01T08:01:01Z' },
    ...more,
  });

const record = (verdicts: unknown[] = []) => ({
  'GET /api/v1/records/fares/production/main': { version: '2.6.1', verdicts },
});

test('says the step that runs, and where no return begins', async () => {
  open(run());

  expect(await screen.findByText('Running, step 1 of 2')).toBeTruthy();
  expect(screen.getByText(/^No-return line/)).toBeTruthy();
  expect(screen.getByText('10 of 1,000 rows')).toBeTruthy();
});

test('a run that waits says its place', async () => {
  open(run({ state: 'queued', place: 2, steps: [] }));

  expect(await screen.findByText('Place 2')).toBeTruthy();
});

test('an estimate is given only where one is known', async () => {
  open(run());
  expect(await screen.findByText('No estimate')).toBeTruthy();
});

test('it is aborted with a reason', async () => {
  const { sent, person } = open(run(), { 'POST /api/v1/runs/R-7/abort': run() });
  const abort = await screen.findByRole('button', { name: /^Abort R-7/ });

  await person.click(abort);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Why'), 'Too many people');
  await person.click(abort);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ reason: 'Too many people' });
});

test('past the point of no return only going back is offered', async () => {
  open(run({ times: { queuedAt: '2027-03-01T08:00:00Z', noReturnAt: '2027-03-01T08:00:30Z' } }));

  expect(await screen.findByText('Cannot be aborted')).toBeTruthy();
  expect(screen.queryByRole('button', { name: /Abort/ })).toBeNull();
  expect(screen.getByRole('link', { name: 'going back' }).getAttribute('href')).toBe('/rollback/fares/production/main');
});

test('nothing is offered to go back from when nothing changed', async () => {
  open(done({ state: 'stopped, nothing changed', sentence: 'The tables are locked by others.' }));

  expect(await screen.findByText('nothing to go back from')).toBeTruthy();
  expect(screen.getByText('The tables are locked by others.')).toBeTruthy();
  expect(screen.queryByText('Verdict')).toBeNull();
});

test('the server says whether it may be judged', async () => {
  open(done(), {
    ...record(),
    'GET /api/v1/session/may': no('right', 'You lack the right “judge” in Production.', 'odile'),
  });

  expect(await screen.findAllByText('You lack the right “judge” in Production. Who can: odile.')).not.toEqual([]);
});

test('a verdict says what was seen', async () => {
  const { sent, person } = open(done(), {
    ...record(),
    'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
    'POST /api/v1/versions/fares/2.6.1/verdict': {},
  });
  const good = await screen.findByRole('button', { name: /^Judge 2\.6\.1 good in Production/ });

  await person.click(good);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('What was seen'), 'Three tickets sold');
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.click(good);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ site: 'production/main', good: true, reason: 'Three tickets sold' });
});

test('a verdict of another version is not taken for this one', async () => {
  open(done(), {
    ...record([{ version: '2.6.0', good: true, by: 'odile', at: '2027-02-01T08:00:00Z', reason: 'fine' }]),
    'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  });

  expect(await screen.findByText('Not judged yet.')).toBeTruthy();
});

test('answers of before and after stand beside one another, for those who may see values', async () => {
  open(done({ answers: [{ question: 'quote', before: '13.80' }] }), record());

  const row = (await screen.findByText('13.80')).closest('tr');
  expect(row?.textContent).toBe('quote13.80not answered');
});

test('whoever may not see values is told that there are answers', async () => {
  open(done({ answers: undefined }), record());

  expect(await screen.findByText('Shown to those who may see values.')).toBeTruthy();
});

test('a run that was asked nothing says nothing of answers', async () => {
  open(done({ answers: [] }), record());

  expect(await screen.findByText('took')).toBeTruthy();
  expect(screen.queryByText('What the host answered')).toBeNull();
});

test.each([
  ['promotion', 'To the promotion', '/promotions/P-7'],
  ['ways-back', 'To the ways back', '/rollback/fares/production/main'],
  ['what-differs', 'To what differs', '/drift/fares/production/main'],
])('what to do next after such an end is said, and leads to %s', async (code, name, href) => {
  const next = { code, words: 'Look what moved.' };
  open(done({ state: 'half written', sentence: 'It is half written.', next }));

  expect(await screen.findByText(/Look what moved/)).toBeTruthy();
  expect(screen.getByRole('link', { name }).getAttribute('href')).toBe(href);
});
