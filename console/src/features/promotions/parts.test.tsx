// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { finding, no, promotion } from '../../shared/testing/samples';
import { Refused, show } from '../../shared/testing/page';
import { ApprovePart } from './ApprovePart';
import { ByHandPart } from './ByHandPart';
import { FindingsPart } from './FindingsPart';
import { Withdraw } from './Withdraw';

const act = (name: RegExp) => screen.getByRole('button', { name });

test('says in one sentence what is agreed to', () => {
  show(
    <ApprovePart
      p={promotion({ impact: { checks: 50, findings: [finding({ acceptedBy: 'tove' }), finding({ id: 'b' })] } })}
    />,
  );

  expect(
    screen.getByText(/^Version 2\.6\.1 of fares goes into Production: 0 removed, 2 changed, 1,234 added/).textContent,
  ).toContain('2 risks, 1 accepted');
});

test('a way that will be closed is said before anybody agrees', () => {
  show(<ApprovePart p={promotion()} />);

  expect(screen.getByText(/By backup: Cannot be used: rows of fares\.log have no key/)).toBeTruthy();
  expect(screen.getByText(/^Re-apply 2\.6\.0/)).toBeTruthy();
});

test('names who may give what is missing, and what is open', () => {
  show(<ApprovePart p={promotion()} />);

  expect(screen.getByText('Needs 2 approvals; may be given by bram, tove.')).toBeTruthy();
  expect(screen.getByText('2 approvals are missing')).toBeTruthy();
});

test('a yes goes to the plan that was shown', async () => {
  const { sent, person } = show(<ApprovePart p={promotion()} />, {
    'POST /api/v1/promotions/P-7/approve': promotion(),
  });

  await person.click(act(/^Approve fares 2\.6\.1 for Production/));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toEqual({
    what: 'POST /api/v1/promotions/P-7/approve',
    body: { fingerprint: 'f'.repeat(64), comment: '' },
  });
});

test('a no asks for a reason', async () => {
  const { sent, person } = show(<ApprovePart p={promotion()} />);

  await person.click(act(/^Reject/));
  expect(sent).toEqual([]);
  expect(screen.getByText('Say why in the comment.')).toBeTruthy();
});

test('what may not be done says why and who can, and is not sent', async () => {
  const p = promotion({
    may: { approve: no('own', 'You prepared P-7, so somebody else approves it.', 'bram', 'tove') },
  });
  const { sent, person } = show(<ApprovePart p={p} />);

  await person.click(act(/^Approve/));

  expect(sent).toEqual([]);
  expect(screen.getByText('You prepared P-7, so somebody else approves it. Who can: bram, tove.')).toBeTruthy();
});

test('a refusal says what to do next', async () => {
  const { person } = show(<ApprovePart p={promotion()} />, {
    'POST /api/v1/promotions/P-7/approve': new Refused(409, {
      code: 'FINGERPRINT',
      detail: 'The plan of P-7 is now another one.',
      next: ['Read what changed'],
    }),
  });

  await person.click(act(/^Approve/));

  expect((await screen.findByRole('alert')).textContent).toContain('The plan of P-7 is now another one.');
  expect(screen.getByRole('alert').textContent).toContain('Next: Read what changed');
});

test('starting leads to the run', async () => {
  const p = promotion({ state: 'agreed', may: { run: { allowed: true, why: '', who: [] } } });
  const { sent, person } = show(<ApprovePart p={p} />, { 'POST /api/v1/promotions/P-7/runs': { number: 'R-7' } });

  await person.click(act(/^Start fares 2\.6\.1 into Production now/));

  await waitFor(() => expect(screen.getByLabelText('where').textContent).toBe('/runs/R-7'));
  expect(sent[0]?.body).toEqual({ expect: 'f'.repeat(64) });
});

test.each(['done', 'withdrawn', 'overtaken'])('offers nothing when it is %s', (state) => {
  show(<ApprovePart p={promotion({ state })} />);

  expect(screen.queryByRole('button')).toBeNull();
});

test('an earlier yes that no longer counts says why', () => {
  const approvals = [
    {
      by: 'tove',
      yes: true,
      fingerprint: 'x',
      comment: '',
      at: '2027-03-01T08:00:00Z',
      voidBecause: 'table/fares.band: its structure moved here',
    },
  ];
  show(<ApprovePart p={promotion({ agreement: { ...promotion().agreement, approvals, approvers: [] } })} />);

  expect(screen.getByText('No longer counts: table/fares.band: its structure moved here')).toBeTruthy();
});

const asked = { number: 1, by: 'bram', at: '2027-03-01T08:00:00Z', text: 'Is the desk told?' };

test('a question before the yes is asked, and nothing is asked empty', async () => {
  const p = promotion({ may: { ask: { allowed: true, why: '', who: [] } } });
  const { sent, person } = show(<ApprovePart p={p} />, { 'POST /api/v1/promotions/P-7/ask': p });

  expect(screen.getByText('Nobody asked anything.')).toBeTruthy();
  await person.click(act(/^Ask it/));
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('A question'), 'Is the desk told?');
  await person.click(act(/^Ask it/));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ text: 'Is the desk told?' });
});

test('a question that is not answered holds the start, and is answered in the case', async () => {
  const p = promotion({
    may: { answer: { allowed: true, why: '', who: [] } },
    agreement: {
      ...promotion().agreement,
      questions: [asked, { ...asked, number: 2, text: 'And the south?', answer: 'By phone', answeredBy: 'ines' }],
    },
  });
  const { sent, person } = show(<ApprovePart p={p} />, { 'POST /api/v1/promotions/P-7/answer': p });

  expect(screen.getAllByText('Not answered: a start is held.')).toHaveLength(1);
  expect(screen.getByText(/By phone/)).toBeTruthy();
  await person.type(screen.getByLabelText('Answer to question 1'), 'By mail');
  await person.click(act(/^Answer it/));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ question: 1, text: 'By mail' });
});

const urgency = {
  said: [{ by: 'ines', at: '2027-03-01T08:00:00Z', reason: 'Fares are wrong' }],
  people: 2,
  passes: ['approval 0 of 1'],
  owed: false,
};

test('an emergency is declared with its cost and a reason', async () => {
  const p = promotion({ may: { emergency: { allowed: true, why: '', who: [] } } });
  const { sent, person } = show(<ApprovePart p={p} />, { 'POST /api/v1/promotions/P-7/emergency': p });

  await person.click(screen.getByText('It cannot wait'));
  expect(screen.getByText(/until it has come nothing ordinary goes there/)).toBeTruthy();
  await person.click(act(/^Declare P-7 an emergency/));
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Why it cannot wait'), 'Fares are wrong');
  await person.click(act(/^Declare P-7 an emergency/));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ reason: 'Fares are wrong' });
});

test('one of two who declare it is not enough, and that is said', () => {
  show(<ApprovePart p={promotion({ agreement: { ...promotion().agreement, urgency } })} />);

  expect(screen.getByText('2 people must declare it before it passes anything.')).toBeTruthy();
  expect(screen.getByText('It passes, and owes: approval 0 of 1')).toBeTruthy();
});

test('the yes that is owed is given after the run, and nothing is started again', () => {
  const p = promotion({
    state: 'done',
    may: { approve: { allowed: true, why: '', who: [] } },
    agreement: { ...promotion().agreement, urgency: { ...urgency, until: '2027-03-02T08:00:00Z', owed: true } },
  });
  show(<ApprovePart p={p} />);

  expect(act(/^Approve fares 2\.6\.1/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /^(Start|Reject)/ })).toBeNull();
  expect(screen.getByRole('alert').textContent).toContain('It owes a yes');
});

test('where no emergency is offered, none is spoken of', () => {
  const refused = (code: string) => ({ emergency: { allowed: false, code, why: 'no', who: [] } });
  show(<ApprovePart p={promotion({ may: refused('not-offered') })} />);
  show(<ApprovePart p={promotion({ may: refused('right') })} />);

  expect(screen.queryByText('Emergency')).toBeNull();
});

test('who may neither ask nor find a question sees no place for them', () => {
  show(<ApprovePart p={promotion({ may: {} })} />);

  expect(screen.queryByText('Questions before the yes')).toBeNull();
});

test('findings stand by how bad they are', () => {
  const findings = [
    finding({ id: 'n', severity: 'note', sentence: 'A note.' }),
    finding({ id: 'r', sentence: 'A risk.' }),
    finding({ id: 'b', severity: 'blocker', sentence: 'A blocker.' }),
  ];
  show(<FindingsPart p={promotion({ impact: { checks: 50, findings } })} />);

  expect(screen.getByText(/^1 blocker, 1 risk, 1 note\./)).toBeTruthy();
  const shown = screen.getAllByText(/^A (note|risk|blocker)\.$/).map((e) => e.textContent);
  expect(shown).toEqual(['A blocker.', 'A risk.', 'A note.']);
});

test('no findings are said with the number of checks', () => {
  show(<FindingsPart p={promotion()} />);

  expect(screen.getByText('No findings. 50 checks ran, none skipped.')).toBeTruthy();
});

test('only a risk that is counted has a ceiling', () => {
  const findings = [finding(), finding({ id: 'b', rule: 'column-dropped', count: 1200, ceiling: 1320 })];
  show(<FindingsPart p={promotion({ impact: { checks: 50, findings } })} />);

  expect(screen.getByText(/^column-dropped/).textContent).toContain('counted 1,200, an approval holds up to 1,320');
  expect(screen.getByText(/^long-lock/).textContent).not.toContain('counted');
});

test('a risk is accepted with a reason and a day', async () => {
  const p = promotion({ impact: { checks: 50, findings: [finding()] } });
  const { sent, person } = show(<FindingsPart p={p} />, { 'POST /api/v1/promotions/P-7/accept-risk': p });

  await person.click(act(/^Accept this risk/));
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Reason'), 'At night');
  await person.type(screen.getByLabelText('Until'), '2027-04-01');
  await person.click(act(/^Accept this risk/));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ finding: 'long-lock table/fares.band', reason: 'At night', until: '2027-04-01' });
});

test('a blocker cannot be accepted', () => {
  show(<FindingsPart p={promotion({ impact: { checks: 50, findings: [finding({ severity: 'blocker' })] } })} />);

  expect(screen.queryByRole('button')).toBeNull();
});

test('notes are changed until the run, and drafted from the comparison', async () => {
  const p = promotion({ may: { ...promotion().may, withdraw: { allowed: true, why: '', who: [] } } });
  const { sent, person } = show(<ApprovePart p={p} />, { 'POST /api/v1/promotions/P-7/notes': p });

  await person.click(act(/^Write notes/));
  await person.click(act(/^Draft from the comparison/));
  await person.type(screen.getByLabelText('Notes'), ' and fares');
  await person.click(act(/^Save the notes/));

  await waitFor(() => expect(sent[0]?.body).toEqual({ notes: '2.6.1 Concessions and fares' }));
});

test('whoever may not write notes reads them', () => {
  const goal = { ...promotion().goal, notes: 'For the summer' };
  show(<ApprovePart p={promotion({ goal })} />);

  expect(screen.getByText('For the summer')).toBeTruthy();
  expect(screen.queryByRole('button', { name: /Change them|Write notes/ })).toBeNull();
});

test('what is in the way of a rollback that is open is chosen there', async () => {
  const at = 'records/fares.concession#in-use';
  const obstacle = {
    at,
    count: 1,
    sentence: '1 row of fares.concession is used by 1 row of fares.booking.',
    offers: [
      { choice: 'keep', words: 'Leave it there', loses: 0 },
      { choice: 'take-incoming', words: 'Remove it', loses: 1 },
    ],
    rows: [],
  };
  const p = promotion({
    choices: { decisions: {}, activate: [], obstacles: [obstacle], manual: [] },
    may: { ...promotion().may, decide: { allowed: true, why: '', who: [] } },
  });
  const { sent, person } = show(<ApprovePart p={p} />, { 'POST /api/v1/promotions/P-7/decide': p });

  await person.click(screen.getByRole('radio', { name: /Leave it there.*loses nothing/ }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ decisions: { [at]: 'keep' } }));
});

test('a case is withdrawn with a reason, and what that means is said', async () => {
  const p = promotion({ may: { ...promotion().may, withdraw: { allowed: true, why: '', who: [] } } });
  const { sent, person } = show(<Withdraw p={p} />, { [`POST /api/v1/promotions/${p.number}/withdraw`]: p });

  await person.click(screen.getByText('Withdraw it'));
  expect(screen.getByText(/nothing at .* changes\. Its approvals do not come along/)).toBeTruthy();
  await person.click(screen.getByRole('button', { name: `Withdraw ${p.number}` }));
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Why is it withdrawn?'), 'Another one comes');
  await person.click(screen.getByRole('button', { name: `Withdraw ${p.number}` }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ reason: 'Another one comes' }));
});

test.each(['done', 'withdrawn', 'overtaken', 'running'])('one that is %s cannot be withdrawn', (state) => {
  show(<Withdraw p={promotion({ state })} />, {});

  expect(screen.queryByText('Withdraw it')).toBeNull();
});

test('what a run takes away is ticked and confirmed by the name before it can be started', async () => {
  const p = promotion({
    state: 'agreed',
    compared: { ...promotion().compared, takesAway: ['37 rows of fares.concession', 'column note of fares.booking'] },
    may: { ...promotion().may, run: { allowed: true, why: '', who: [] } },
  });
  const { sent, person } = show(<ApprovePart p={p} />, {
    'POST /api/v1/promotions/P-7/runs': { number: 'R-9' },
  });
  const start = screen.getByRole('button', { name: /^Start / });

  expect(screen.getByText('37 rows of fares.concession')).toBeDefined();
  await person.click(start);
  await person.click(screen.getByLabelText('I know that this goes'));
  await person.type(screen.getByLabelText('Type fares to confirm'), 'fare');
  await person.click(start);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Type fares to confirm'), 's');
  await person.click(start);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.what).toBe('POST /api/v1/promotions/P-7/runs');
});

test('a run that takes nothing away asks for nothing of that', () => {
  show(<ApprovePart p={promotion({ state: 'agreed' })} />, {});

  expect(screen.queryByLabelText('I know that this goes')).toBeNull();
});

test('work by hand is read with where it comes from, and asked for in this case alone', async () => {
  const asked = {
    step: { when: 'after', who: 'desk', text: 'Grant the desk access\nzones 7 to 9', minutes: 30 },
    title: 'Grant the desk access',
    origin: 'fares@2.6.1',
    whenWords: 'after users are let in again',
  };
  const p = promotion({ may: { decide: { allowed: true, why: '', who: [] } } });
  const plan = { ...p.plan!, steps: [{ ...p.plan!.steps[0]!, manual: asked }] };
  const { sent, person } = show(
    <ByHandPart p={{ ...p, plan }} />,
    { 'POST /api/v1/promotions/P-7/manual': p, 'GET /api/v1/roles': [] },
    '/promotions/P-7',
    '/promotions/:number',
  );

  expect(await screen.findByText('Grant the desk access')).toBeTruthy();
  expect(screen.getByText(/after users are let in again, by desk, asked for by fares@2\.6\.1/)).toBeTruthy();
  expect(screen.getByText('within 30 minutes')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Ask for work by hand in this case' }));
  await person.click(screen.getByRole('button', { name: 'Add work by hand' }));
  const save = screen.getByRole('button', { name: /^Save the work by hand of P-7/ });
  await person.click(save);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('What is done (first line: its name)'), 'Ring the north');
  await person.click(save);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ steps: [{ when: 'after', text: 'Ring the north' }] });
});
