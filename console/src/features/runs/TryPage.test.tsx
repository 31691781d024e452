// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { promotion, run, yes } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import TryPage from './TryPage';

const evidence = (more: object) => ({
  number: 'E-1',
  application: 'fares',
  version: '2.6.1',
  site: 'test/main',
  run: 'R-3',
  step: 0,
  name: 'report.xml',
  bytes: 100,
  digest: 'a',
  about: '',
  report: { words: '214 tests, none failed', passed: true, tests: 214, bad: 0, skipped: 0, suites: [], failed: [] },
  by: 'tove',
  at: '2027-03-01T08:00:00Z',
  ...more,
});

const done = run({
  state: 'done',
  ended: true,
  steps: [
    { number: 1, name: 'Read back', state: 'done' },
    {
      number: 2,
      name: 'By hand',
      state: 'done',
      manual: {
        asked: { step: { when: 'after', who: '', text: '' }, origin: 'path', title: 'Hang up the plan', when: 'after' },
        by: 'bram',
        note: 'Hangs at the gate',
        evidence: 'E-7',
        overdue: false,
        who: [],
        mayTake: yes,
        mayWord: yes,
        mayLeaveOut: yes,
      } as never,
    },
  ],
});

function page(r: object = done, given: object[] = []) {
  const brings = [{ number: '2.6.1', title: 'Pets on board', notes: 'Quote a pet.', tasks: ['CHG-7'] }];
  const p = promotion();
  return show(
    <TryPage />,
    {
      'GET /api/v1/runs/R-7': r,
      'GET /api/v1/promotions/P-7': { ...p, compared: { ...p.compared, brings } },
      'GET /api/v1/evidence': { items: given },
      'GET /api/v1/runs/R-7/sheet': {
        run: 'R-7',
        at: '2027-03-02T22:00:00Z',
        asPlanned: true,
        lines: [],
        more: 0,
        odd: [],
        uncarried: [],
      },
      'GET /api/v1/records/fares/production/main': { version: '2.6.1', verdicts: [] },
      'GET /api/v1/session/may': yes,
      'POST /api/v1/versions/fares/2.6.1/verdict': { verdicts: [] },
    },
    '/runs/R-7/try',
    '/runs/:number/try',
  );
}

test('what changed is read in the words of whoever made it', async () => {
  page();

  expect(await screen.findByText('Quote a pet.')).toBeTruthy();
  expect(screen.getByText(/Pets on board, CHG-7/)).toBeTruthy();
});

test('what people did around it stands there with what came of it', async () => {
  page();

  expect(await screen.findByText(/Hang up the plan by bram: Hangs at the gate \(E-7\)/)).toBeTruthy();
});

test('what others showed of this very version, and of no other', async () => {
  page(done, [
    evidence({}),
    evidence({ number: 'E-2', version: '2.6.0', name: 'old.xml' }),
    evidence({ number: 'E-3', run: 'R-7', name: 'mine.xml' }),
  ]);

  const elsewhere = within(await screen.findByRole('region', { name: 'What was shown of it elsewhere' }));
  expect(await elsewhere.findByText(/at test\/main by tove/)).toBeTruthy();
  expect(elsewhere.queryByText(/old\.xml/)).toBeNull();
  expect(elsewhere.queryByText(/mine\.xml/)).toBeNull();
});

test('work by hand that comes after holds up no verdict', async () => {
  page(
    run({
      state: 'paused',
      steps: [
        { number: 1, name: 'Record', state: 'done' },
        { ...done.steps[1]!, state: 'running' },
      ],
    }),
  );

  expect(await screen.findByRole('button', { name: /^Judge 2\.6\.1 good/ })).toBeTruthy();
  expect(screen.getByText('Waits')).toBeTruthy();
});

test('the verdict is given on the same page', async () => {
  const { sent, person } = page();

  await person.type(await screen.findByLabelText('What was seen'), 'A pet costs 5.00');
  await person.click(screen.getByRole('button', { name: /^Judge 2\.6\.1 good/ }));

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/versions/fares/2.6.1/verdict']));
  expect(sent[0]?.body).toMatchObject({ good: true, reason: 'A pet costs 5.00' });
});
