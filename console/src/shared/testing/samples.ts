import type { Schemas } from '../data/api';

export const yes: Schemas['MayView'] = { allowed: true, why: '', who: [] };

export const no = (code: string, why: string, ...who: string[]): Schemas['MayView'] => ({
  allowed: false,
  code,
  why,
  who,
});

export const finding = (more: Partial<Schemas['FindingView']> = {}): Schemas['FindingView'] => ({
  id: 'long-lock table/fares.band',
  rule: 'long-lock',
  severity: 'risk',
  place: 'table/fares.band',
  sentence: 'fares.band has 200 MB; while its structure changes, nobody can read or write it.',
  count: 0,
  ceiling: 0,
  advice: 'Run it when few people work',
  examples: [],
  ...more,
});

/** A promotion that waits for its second approval. */
export function promotion(more: Partial<Schemas['PromotionView']> = {}): Schemas['PromotionView'] {
  return {
    number: 'P-7',
    goal: {
      application: 'fares',
      version: '2.6.1',
      title: 'Concessions',
      notes: '',
      site: 'production/main',
      stageName: 'Production',
      production: true,
      purpose: 'version',
      path: 'ordinary',
    },
    prepared: { by: 'ines', at: '2027-03-01T08:00:00Z', draftedNotes: '2.6.1 Concessions' },
    state: 'ready',
    compared: {
      at: '2027-03-01T08:01:00Z',
      present: '2.6.0',
      base: '2.6.0',
      counts: { added: 1234, changed: 2, removed: 0, conflict: 0, kept: 0, same: 9 },
      components: [],
      gives: [],
      moved: [],
      takesAway: [],
      brings: [],
    },
    impact: { checks: 50, findings: [] },
    choices: { decisions: {}, activate: [], obstacles: [], manual: [] },
    guards: [],
    plan: {
      fingerprint: '7c1e-90ab-k3mz',
      fullFingerprint: 'f'.repeat(64),
      steps: [{ number: 1, act: 'switch', name: 'Switch', target: 'database', what: 'writes', undo: 'rolls back' }],
      noReturn: 1,
      statements: ['ALTER TABLE …'],
      waysBack: [
        { way: 'earlier-version', possible: true, sentence: 'Re-apply 2.6.0', ceiling: 0 },
        { way: 'backup', possible: false, sentence: 'Cannot be used: rows of fares.log have no key', ceiling: 0 },
      ],
      gates: [],
      locked: {
        tables: [
          {
            table: 'fares.band',
            hold: 'everything',
            words: 'nobody else reads or writes it',
            because: ['its structure changes', '6 rows of it are written'],
          },
        ],
        seconds: 3.1,
        about: 'about 3 seconds',
        basis: 'by the size of what is there',
        before: [],
        after: [],
      },
    },
    agreement: {
      approvals: [],
      approvers: ['bram', 'tove'],
      needed: 2,
      asks: ['2 approvals'],
      questions: [],
      coveredBy: undefined,
    },
    gates: [{ code: 'approvals', words: '2 approvals are missing', right: 'approve' }],
    may: { approve: yes, reject: yes, run: no('gates', 'P-7 waits: 2 approvals are missing.', 'bram') },
    revision: 3,
    ...more,
  };
}

/** A run between its preparation and its switch. */
export function run(more: Partial<Schemas['RunView']> = {}): Schemas['RunView'] {
  return {
    number: 'R-7',
    promotion: 'P-7',
    goal: {
      application: 'fares',
      version: '2.6.1',
      before: '2.6.0',
      site: 'production/main',
      stageName: 'Production',
      production: true,
      purpose: 'version',
      notes: '',
      fingerprint: '7c1e-90ab-k3mz',
    },
    state: 'running',
    ended: false,
    startedBy: 'ines',
    times: { usersOut: false, queuedAt: '2027-03-01T08:00:00Z', startedAt: '2027-03-01T08:00:01Z' },
    mayAbort: yes,
    steps: [
      { number: 1, name: 'Prepare', state: 'running', began: '2027-03-01T08:00:02Z' },
      { number: 2, name: 'Switch', state: 'to come' },
    ],
    noReturnStep: 2,
    rows: { done: 10, toDo: 1000 },
    place: 0,
    steering: { inCharge: 'ines', charges: [], may: {} },
    ...more,
  };
}

export const wayBack = (more: Partial<Schemas['WayOption']> = {}): Schemas['WayOption'] => ({
  way: 'earlier-version',
  possible: true,
  unreachable: false,
  why: '',
  version: '2.6.0',
  counts: { added: 0, changed: 3, removed: 1, conflict: 0, kept: 2, same: 0 },
  writes: ['host', 'database'],
  lost: 0,
  lossSentence: 'Nothing is lost.',
  losses: [],
  covered: true,
  coveredBy: 'P-7',
  fingerprint: '7c1e-90ab-k3mz',
  fullFingerprint: 'e'.repeat(64),
  findings: [],
  obstacles: [],
  gives: [],
  touched: [],
  more: 0,
  ...more,
});

export const ways = (...all: Schemas['WayOption'][]): Schemas['Ways'] => ({
  application: 'fares',
  site: 'production/main',
  production: true,
  present: '2.6.1',
  ways: all,
  may: yes,
});

export function draft(more: Partial<Schemas['DraftView']> = {}): Schemas['DraftView'] {
  return {
    id: 'd1',
    application: 'fares',
    from: '2.6.0',
    state: 'open',
    picks: [
      { key: 'table/fares.band', site: 'development/main', reason: 'chosen', rows: 0, changes: '1 column', read: true },
    ],
    removed: { ticked: [], gone: [] },
    checked: {
      at: '2027-03-01T08:00:00Z',
      findings: [],
      renames: [],
      problems: [],
      leftBehind: [],
      coverage: [],
      cycles: [],
    },
    writing: { order: ['table/fares.band'], moved: [], conversions: [] },
    author: 'ines',
    at: '2027-03-01T07:00:00Z',
    proposedNumber: '2.7.0',
    notTaken: [],
    draftedNotes: '- table/fares.band: 1 column',
    revision: 1,
    ...more,
  };
}
