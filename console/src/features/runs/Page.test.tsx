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
    times: {
      usersOut: false,
      queuedAt: '2027-03-01T08:00:00Z',
      startedAt: '2027-03-01T08:00:01Z',
      endedAt: '2027-03-01T08:01:01Z',
    },
    ...more,
  });

const record = (verdicts: unknown[] = []) => ({
  'GET /api/v1/evidence': { items: [] },
  'GET /api/v1/records/fares/production/main': { version: '2.6.1', verdicts },
});

test('says the step that runs, and where no return begins', async () => {
  open(run());

  expect(await screen.findByText('Running, step 1 of 2')).toBeTruthy();
  expect(screen.getByText(/^No-return line/)).toBeTruthy();
  expect(screen.getByText('10 of 1,000 rows')).toBeTruthy();
});

test('a run that waits says its place', async () => {
  open(
    run({ state: 'queued', place: 2, waitsFor: 'R-9 of fares 2.3.0, which is paused and 1 more in line', steps: [] }),
  );

  expect(await screen.findByText('Place 2')).toBeTruthy();
  expect(screen.getByText(/waits for R-9 of fares 2.3.0, which is paused/)).toBeTruthy();
});

test('users whom another run let in are out no more, and nobody guesses since when', async () => {
  const times = { queuedAt: '2027-03-01T08:00:00Z', usersOutSince: '2027-03-01T08:03:00Z' };
  open(run({ state: 'done, n to look at', ended: true, times: { ...times, usersOut: false } }));
  expect(await screen.findByText('users were out')).toBeTruthy();
  expect(screen.getByText('Not known')).toBeTruthy();
});

test('how long users are out is said beside how long it takes, and how long both usually are', async () => {
  open(
    run({
      times: {
        usersOut: false,
        queuedAt: '2027-03-01T08:00:00Z',
        startedAt: '2027-03-01T08:00:00Z',
        endedAt: '2027-03-01T08:05:00Z',
        usersOutSince: '2027-03-01T08:03:00Z',
        usersInAgain: '2027-03-01T08:04:00Z',
        expected: { leastSeconds: 290, mostSeconds: 430, runs: 6 },
        usersOutExpected: { leastSeconds: 55, mostSeconds: 55, runs: 6 },
      },
    }),
  );

  expect(await screen.findByText('4:50 to 7:10')).toBeTruthy();
  expect(screen.getByText('the last 6 runs here')).toBeTruthy();
  expect(screen.getByText('1:00')).toBeTruthy();
  expect(screen.getByText('users were out, usually about 0:55')).toBeTruthy();
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
  open(run({ times: { usersOut: false, queuedAt: '2027-03-01T08:00:00Z', noReturnAt: '2027-03-01T08:00:30Z' } }));

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
    ...record([
      { version: '2.6.0', good: true, by: 'odile', at: '2027-02-01T08:00:00Z', reason: 'fine', evidence: [] },
    ]),
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
  expect(screen.queryByText('What was answered')).toBeNull();
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

const yes: Schemas['MayView'] = { allowed: true, why: '', who: [] };

const given: Schemas['EvidenceView'] = {
  number: 'E-3',
  application: 'fares',
  version: '2.6.1',
  site: 'production/main',
  run: 'R-7',
  step: 0,
  name: 'report.xml',
  bytes: 1200,
  digest: 'a'.repeat(64),
  about: 'night quotes',
  report: {
    tests: 4,
    bad: 1,
    skipped: 0,
    passed: false,
    words: '4 tests, 1 failed',
    suites: [],
    failed: [{ suite: 'quotes', test: 'pets', message: '13.80 is not 0' }],
  },
  by: 'tove',
  at: '2027-03-01T08:02:00Z',
};

const handed = (more: Partial<Schemas['HandedView']> = {}): Schemas['HandedView'] => ({
  asked: {
    step: { when: 'switched', text: 'Tell the desk\n- zone 7\n- zone 8' },
    title: 'Tell the desk',
    origin: 'fares@2.6.1',
    whenWords: 'after the switch, before users are let in',
  },
  since: '2027-03-01T08:00:30Z',
  overdue: false,
  who: ['bram'],
  mayWord: yes,
  mayTake: yes,
  mayLeaveOut: yes,
  ...more,
});

const paused = (h: Schemas['HandedView'], may: Record<string, Schemas['MayView']> = {}) =>
  run({
    state: 'paused',
    steps: [
      { number: 1, name: 'Switch', state: 'done' },
      { number: 2, name: 'By hand', state: 'running', manual: h },
    ],
    noReturnStep: 1,
    times: { usersOut: false, queuedAt: '2027-03-01T08:00:00Z', noReturnAt: '2027-03-01T08:00:20Z' },
    steering: {
      inCharge: 'ines',
      charges: [],
      pause: { code: 'by-hand', step: 2, by: 'plenzo', since: '2027-03-01T08:00:30Z', reason: 'Tell the desk' },
      may,
    },
  });

test('work by hand is done once each of its lines is ticked', async () => {
  const { sent, person } = open(paused(handed()), { 'POST /api/v1/runs/R-7/steps/2/done': paused(handed()) });
  const go = await screen.findByRole('button', { name: /^Step 2 is done, go on/ });

  await person.click(screen.getByLabelText('zone 7'));
  await person.click(go);
  expect(sent).toEqual([]);
  expect(screen.getByText('Tick the line that is done.')).toBeTruthy();
  await person.click(screen.getByLabelText('zone 8'));
  await person.type(screen.getByLabelText(/^Note/), 'both told');
  await person.click(go);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ note: 'both told' });
});

test('work that asks for a file is done once one is chosen', async () => {
  const asks = handed({
    asked: {
      step: { when: 'switched', text: 'Tell the desk', proof: true },
      title: 'Tell the desk',
      origin: 'fares@2.6.1',
      whenWords: 'after the switch',
    },
  });
  const { sent, person } = open(paused(asks), {
    'GET /api/v1/evidence': { items: [given] },
    'POST /api/v1/runs/R-7/steps/2/done': paused(asks),
  });
  const go = await screen.findByRole('button', { name: /^Step 2 is done, go on/ });
  await person.click(go);
  expect(sent).toEqual([]);
  expect(screen.getByText(/^Choose the file that shows it/)).toBeTruthy();
  await person.click(screen.getByRole('combobox', { name: 'The file that shows it' }));
  await person.click(await screen.findByRole('option', { name: 'E-3 report.xml' }));
  await person.click(go);

  await waitFor(() => expect(sent[0]?.body).toEqual({ note: '', evidence: 'E-3' }));
});

test('whoever is not asked reads who is', async () => {
  open(paused(handed({ mayWord: no('role', 'ines does not hold the role "desk" at production/main.', 'bram') })));

  expect(await screen.findByText('Asked of bram.')).toBeTruthy();
  expect(screen.getAllByText(/does not hold the role "desk".*Who can: bram/).length).toBeGreaterThan(0);
});

test('what could not be done needs a word, and what is overdue is said', async () => {
  const { sent, person } = open(
    paused(handed({ overdue: true, due: '2027-03-01T09:00:00Z', outcome: 'not-done', by: 'bram', note: 'no answer' })),
    { 'POST /api/v1/runs/R-7/steps/2/not-done': paused(handed()) },
  );
  expect(await screen.findByText(/^Overdue since/)).toBeTruthy();
  expect(screen.getByText('bram says that it could not be done: no answer')).toBeTruthy();
  const not = screen.getByRole('button', { name: /^Could not be done/ });

  await person.click(not);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText(/^Note/), 'still none');
  await person.click(not);

  await waitFor(() => expect(sent[0]?.body).toEqual({ reason: 'still none' }));
});

test('it is left out only where the plan lets it', async () => {
  open(paused(handed()));
  await screen.findByText('Asked of bram.');
  expect(screen.queryByRole('button', { name: /^Leave it out/ })).toBeNull();
});

test('a paused run past its switch is ended with users out, by whoever may go back', async () => {
  const { sent, person } = open(paused(handed(), { end: yes }), { 'POST /api/v1/runs/R-7/end': paused(handed()) });
  const end = await screen.findByRole('button', { name: /^End R-7 here, users stay out/ });

  await person.click(end);
  expect(sent).toEqual([]);
  await person.type(screen.getAllByLabelText('Why')[0]!, 'The desk is not reached');
  await person.click(end);

  await waitFor(() => expect(sent[0]?.body).toEqual({ reason: 'The desk is not reached' }));
});

test('a run is taken over from whom one saw in charge, and both names stay', async () => {
  const taken = run({
    steering: {
      inCharge: 'ines',
      charges: [{ from: 'tove', by: 'ines', at: '2027-03-01T08:00:10Z', reason: 'tove sleeps' }],
      may: { 'take-over': yes, pause: yes },
    },
  });
  const { sent, person } = open(taken, { 'POST /api/v1/runs/R-7/take-over': taken });
  expect(await screen.findByText(/^ines took it over from tove/)).toBeTruthy();

  await person.type(screen.getAllByLabelText('Why').at(-1)!, 'My turn');
  await person.click(screen.getByRole('button', { name: /^Take R-7 over/ }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ from: 'ines', reason: 'My turn' }));
});

test('an answer that is not as it should be keeps users out: asked again, or let in with a reason', async () => {
  const r = run({
    state: 'paused',
    times: { usersOut: false, queuedAt: '2027-03-01T08:00:00Z', noReturnAt: '2027-03-01T08:00:20Z' },
    steering: {
      inCharge: 'ines',
      charges: [],
      pause: {
        code: 'answers',
        step: 2,
        by: 'plenzo',
        since: '2027-03-01T08:00:30Z',
        reason: 'quote answers otherwise',
      },
      may: { 'let-in': yes, resume: yes },
    },
  });
  const { sent, person } = open(r, { 'POST /api/v1/runs/R-7/let-in': r, 'POST /api/v1/runs/R-7/resume': r });
  expect(await screen.findByText('Users are kept out: quote answers otherwise')).toBeTruthy();

  await person.click(screen.getByRole('button', { name: /^Ask again/ }));
  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/runs/R-7/resume']));
  const letIn = screen.getByRole('button', { name: /^Let users in all the same/ });
  await person.click(letIn);
  expect(sent).toHaveLength(1);
  await person.type(screen.getAllByLabelText('Why')[0]!, 'The desk agreed');
  await person.click(letIn);

  await waitFor(() => expect(sent[1]?.body).toEqual({ reason: 'The desk agreed' }));
});

test('a test report says what it says, and the verdict names what was given', async () => {
  const { sent, person } = open(done(), {
    ...record(),
    'GET /api/v1/evidence': { items: [given] },
    'GET /api/v1/session/may': yes,
    'POST /api/v1/versions/fares/2.6.1/verdict': {},
  });
  expect(await screen.findByText('4 tests, 1 failed')).toBeTruthy();
  expect(screen.getByText('quotes pets: 13.80 is not 0')).toBeTruthy();
  expect(screen.getByRole('link', { name: 'E-3 report.xml' }).getAttribute('href')).toBe('/api/v1/evidence/E-3/file');
  expect(await screen.findByText('The verdict names E-3.')).toBeTruthy();

  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.type(screen.getByLabelText('What was seen'), 'Pets pay');
  await person.click(screen.getByRole('button', { name: /^Judge 2\.6\.1 bad in Production/ }));

  await waitFor(() =>
    expect(sent[0]?.body).toEqual({ site: 'production/main', good: false, reason: 'Pets pay', evidence: ['E-3'] }),
  );
});

test('a file is given with a word about it', async () => {
  const { asked, person } = open(done(), { ...record(), 'PUT /api/v1/evidence': {} });
  await person.click(await screen.findByText('Give a file'));
  const add = screen.getByRole('button', { name: /^Give it/ });
  await person.click(add);
  expect(asked.some((a) => a.includes('name='))).toBe(false);

  await person.upload(screen.getByLabelText('File'), new File(['{}'], 'photo.txt'));
  await person.type(screen.getByLabelText('What it shows'), 'the gate');
  await person.click(add);

  await waitFor(() => expect(asked.some((a) => a.includes('run=R-7&name=photo.txt&about=the%20gate'))).toBe(true));
});
