// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { draft } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import { Check } from './Check';
import { Chosen } from './Chosen';
import { Discard } from './Discard';
import { Conversions } from './Conversions';
import { Renames } from './Renames';
import { Source } from './Source';
import { Seal } from './Seal';

const checked = draft().checked;

test('a version is sealed with its title', async () => {
  const { sent, person } = show(<Seal d={draft()} />, {
    'POST /api/v1/drafts/d1/seal': { application: 'fares', number: '2.7.0' },
  });
  const seal = screen.getByRole('button', { name: /^Seal fares 2\.7\.0/ });

  await person.click(seal);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Title'), 'Concessions');
  await person.click(seal);

  await waitFor(() => expect(screen.getByLabelText('where').textContent).toBe('/versions/fares/2.7.0'));
  expect(sent[0]?.body).toMatchObject({ number: '2.7.0', title: 'Concessions', tasks: [] });
});

test.each([
  [undefined, 'Check it first.'],
  ['2027-03-01T08:00:00Z', 'Something is in the way.'],
])('what is in the way keeps it a draft (%s)', (at, why) => {
  show(<Seal d={draft({ checked: { ...checked, at, problems: ['table/fares.band: not read'] } })} />);

  expect(screen.getByText(why)).toBeTruthy();
});

test('nothing picked, nothing to check', () => {
  show(<Check d={draft({ picks: [], checked: unchecked() })} />);

  expect(screen.getByText('Pick something first.')).toBeTruthy();
});

/** Of a draft that was edited since it was checked. */
function unchecked(rule = 'not-checked'): typeof checked {
  const found = { ...checked.findings[0]!, rule, severity: 'blocker', place: 'draft', sentence: 'Not yet', advice: '' };
  return { ...checked, at: undefined, problems: ['Not yet'], findings: [found] };
}

test('what is next is no fault', () => {
  show(<Chosen d={draft({ picks: [], checked: unchecked('nothing-picked') })} />);

  expect(screen.getByRole('heading', { name: 'Nothing chosen yet' })).toBeTruthy();
  expect(screen.getByText('Choose what the version brings from what changed.')).toBeTruthy();
  expect(screen.queryByText('Not yet')).toBeNull();
  expect(screen.queryByText(/Renamed, or two/)).toBeNull();
});

test('a draft is checked where what is chosen stands', async () => {
  const d = draft({ checked: unchecked() });
  const { sent, person } = show(<Chosen d={d} />, { 'POST /api/v1/drafts/d1/check': d });

  expect(screen.getByRole('heading', { name: /chosen, not checked yet$/ })).toBeTruthy();
  expect(screen.getByText(/^A check reads every pick at its source/)).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Check every pick at the source' }));

  await waitFor(() => expect(sent.some((s) => s.what.endsWith('/check'))).toBe(true));
});

test('a rename that is asked about is, whatever is chosen', () => {
  const asked = { component: 'table/fares.band', was: 'note', is: 'remark', denied: false, one: false };
  show(<Chosen d={draft({ picks: [], checked: { ...checked, renames: [asked] } })} />);

  expect(screen.getByRole('button', { name: 'One column, renamed' })).toBeTruthy();
});

test('once it is checked what is in the way is counted and said', () => {
  const found = { ...unchecked('order-cycle').findings[0]!, sentence: 'They need one another.' };
  show(<Chosen d={draft({ checked: { ...checked, problems: ['x'], findings: [found] } })} />);

  expect(screen.getByRole('heading', { name: /1 in the way$/ })).toBeTruthy();
  expect(screen.getByText('They need one another.')).toBeTruthy();
  expect(screen.queryByText(/^A check reads/)).toBeNull();
});

test('needs are one a line, tasks by commas', async () => {
  const { sent, person } = show(<Seal d={draft()} />, {
    'POST /api/v1/drafts/d1/seal': { application: 'fares', number: '2.7.0' },
  });

  await person.type(screen.getByLabelText('Title'), 'T');
  await person.type(screen.getByLabelText(/^Needs/), 'sailings >=1.8.0{Enter}{Enter}server/host >=2.0.0');
  await person.type(screen.getByLabelText(/^Done for/), 'FERRY-1, FERRY-2');
  await person.click(screen.getByRole('button', { name: /^Seal fares/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({
    needs: ['sailings >=1.8.0', 'server/host >=2.0.0'],
    tasks: ['FERRY-1', 'FERRY-2'],
  });
});

test('a likely rename is a question with its cost', async () => {
  const d = draft({
    checked: {
      ...checked,
      renames: [{ component: 'table/fares.band', was: 'note', is: 'remark', denied: false, one: false }],
    },
  });
  const { sent, person } = show(<Renames id={d.id} renames={d.checked.renames} tables={[]} open />, {
    'POST /api/v1/drafts/d1/two-columns': d,
  });

  expect(screen.getByText('If it was renamed, its values would be lost: say which it is.')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: /^These are two columns/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
});

test('a rename that somebody names goes with its values, and can still be two columns', async () => {
  const asked = { component: 'table/fares.band', was: 'note', is: 'remark', denied: false, one: false };
  const d = draft({ checked: { ...checked, renames: [asked] } });
  const { sent, person } = show(<Renames id={d.id} renames={d.checked.renames} tables={[]} open />, {
    'POST /api/v1/drafts/d1/renamed': d,
  });

  await person.click(screen.getByRole('button', { name: 'One column, renamed' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ component: 'table/fares.band', was: 'note', is: 'remark' }));
});

test('a rename that the server tells is said', () => {
  const told = { component: 'table/fares.band', was: 'note', is: 'remark', denied: false, one: true };
  const d = draft({ checked: { ...checked, renames: [told] } });
  show(<Renames id={d.id} renames={d.checked.renames} tables={[]} open />);

  expect(screen.getByText(/note is remark by now/)).toBeTruthy();
  expect(screen.getByText('One column under another name: its values go with it.')).toBeTruthy();
  expect(screen.getAllByRole('button')).toHaveLength(1);
});

test('a renamed table is asked about as a table, with its rows as the cost', async () => {
  const asked = {
    component: 'table/fares.rate',
    was: 'table/fares.band',
    is: 'table/fares.rate',
    denied: false,
    one: false,
  };
  const d = draft({ checked: { ...checked, renames: [asked] } });
  const { sent, person } = show(<Renames id={d.id} renames={d.checked.renames} tables={[]} open />, {
    'POST /api/v1/drafts/d1/renamed': d,
  });

  expect(screen.getByText('table/fares.band is gone and table/fares.rate with the same columns is new.')).toBeTruthy();
  expect(screen.getByText('If it was renamed, its rows would be lost: say which it is.')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'One table, renamed' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ component: asked.component, was: asked.was, is: asked.is }));
});

test('of two that exchanged their names each is one, or a person says that they are two', () => {
  const component = 'table/fares.band';
  const renames = [
    { component, was: 'low', is: 'high', denied: false, one: true },
    { component, was: 'high', is: 'low', denied: true, one: false },
  ];
  show(<Renames id="d1" renames={renames} tables={[]} open />);

  expect(screen.getByText('table/fares.band: low is high by now.')).toBeTruthy();
  expect(screen.getAllByRole('button').map((b) => b.textContent)).toEqual([expect.stringMatching(/^These are two/)]);
});

test.each([
  ['price_before', 'price', 'One column, renamed', { was: 'price', is: 'price_before' }],
  ['', 'fares.band', 'One table, renamed', { was: 'table/fares.band', is: 'table/fares.rate' }],
])('a rename that nobody asks about is said: %s', async (column, before, name, body) => {
  const d = draft();
  const { sent, person } = show(<Renames id={d.id} renames={[]} tables={['table/fares.rate']} open />, {
    'POST /api/v1/drafts/d1/renamed': d,
  });

  await person.click(screen.getByRole('button', { name: 'Say what was renamed' }));
  if (column) await person.type(screen.getByLabelText('Column by now'), column);
  await person.click(screen.getByRole('button', { name: new RegExp(`^${name}`) }));
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Name before'), before);
  await person.click(screen.getByRole('button', { name: new RegExp(`^${name}`) }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ component: 'table/fares.rate', ...body }));
  expect(await screen.findByRole('button', { name: 'Say what was renamed' })).toBeTruthy();
});

test('of a sealed draft, or without a table, no rename is said', () => {
  show(<Renames id="d1" renames={[]} tables={['table/fares.rate']} open={false} />);
  show(<Renames id="d1" renames={[]} tables={[]} open />);

  expect(screen.queryByRole('button')).toBeNull();
  expect(screen.queryByText('Renamed, or two?')).toBeNull();
});

test('an answered rename asks no more', () => {
  const d = draft({
    checked: {
      ...checked,
      renames: [{ component: 'table/fares.band', was: 'note', is: 'remark', denied: true, one: false }],
    },
  });
  show(<Renames id={d.id} renames={d.checked.renames} tables={[]} open />);

  expect(screen.queryByRole('button')).toBeNull();
  expect(screen.getByText('Two columns, as somebody said.')).toBeTruthy();
});

test('notes are drafted from what changes and sealed with it', async () => {
  const { sent, person } = show(<Seal d={draft()} />, {
    'POST /api/v1/drafts/d1/seal': { application: 'fares', number: '2.7.0' },
  });

  await person.click(screen.getByRole('button', { name: /Draft the notes/ }));
  await person.type(screen.getByLabelText('Title'), 'Concessions');
  await person.click(screen.getByRole('button', { name: /^Seal fares/ }));

  await waitFor(() => expect(sent[0]?.body).toMatchObject({ notes: '- table/fares.band: 1 column' }));
});

test('a draft is discarded after its cost was said', async () => {
  const { sent, person } = show(<Discard d={draft()} />, { 'DELETE /api/v1/drafts/d1': draft() });

  await person.click(screen.getByRole('button', { name: 'Discard the draft' }));
  expect(sent).toEqual([]);
  expect(screen.getByText(/One pick goes for good/)).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Discard it for good' }));

  await waitFor(() => expect(sent[0]?.what).toBe('DELETE /api/v1/drafts/d1'));
});

test('an outdated draft offers to begin from the newer version', async () => {
  const finding = {
    rule: 'outdated-start',
    severity: 'risk',
    place: '2.6.1',
    sentence: 'A version was made since.',
    advice: '',
  };
  const { sent, person } = show(<Chosen d={draft({ state: 'open', checked: { ...checked, findings: [finding] } })} />, {
    'POST /api/v1/drafts/d1/take-up': draft(),
  });

  await person.click(screen.getByRole('button', { name: 'Begin from 2.6.1' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ version: '2.6.1' }));
});

const held = (key: string, more: object = {}) => ({
  key,
  state: 'changed',
  changes: 'its content',
  problem: '',
  ...more,
});
const source = (d = draft({ state: 'open', picks: [] }), more: Record<string, unknown> = {}) =>
  show(<Source d={d} />, {
    'GET /api/v1/stages': [{ key: 'development', role: 'development', sites: [{ key: 'main', targets: [] }] }],
    'GET /api/v1/applications': { items: [{ key: 'fares', name: 'Fares' }] },
    'GET /api/v1/components': [
      held('rule/fares.peak', { author: 'tove' }),
      held('records/fares.band'),
      held('table/fares.lane', { problem: 'cannot be carried: no key' }),
    ],
    'POST /api/v1/drafts/d1/add': d,
    ...more,
  });

test('all that match are taken in one go, and what cannot be is left to be named', async () => {
  const { sent, asked, person } = source();

  expect(await screen.findByText(/last changed by tove/)).toBeTruthy();
  await person.type(screen.getByLabelText('Find'), 'automation');
  await waitFor(() => expect(asked.some((a) => a.includes('find=automation'))).toBe(true));
  await person.click(await screen.findByRole('button', { name: 'Take all 2 that match' }));

  await waitFor(() =>
    expect(sent[0]?.body).toEqual({
      site: 'development/main',
      picks: [{ component: 'rule/fares.peak' }, { component: 'records/fares.band' }],
      whatCanBe: true,
    }),
  );
});

const taken = draft({
  state: 'open',
  picks: [{ key: 'records/fares.band', from: 'development/main', reason: 'chosen' }] as never,
});

test('what goes alone is taken out at once', async () => {
  const { sent, person } = source(taken, {
    'GET /api/v1/drafts/d1/drop': { component: 'records/fares.band', goes: [], stays: '' },
    'POST /api/v1/drafts/d1/drop': taken,
  });

  await person.click(await screen.findByRole('checkbox', { name: /records\/fares.band/ }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ component: 'records/fares.band' }));
});

test('what goes with it is said before it is taken out', async () => {
  const { sent, person } = source(taken, {
    'GET /api/v1/drafts/d1/drop': {
      component: 'records/fares.band',
      goes: [{ component: 'table/fares.band', reason: 'needed by records/fares.band' }],
      stays: '',
    },
    'POST /api/v1/drafts/d1/drop': taken,
  });
  const box = await screen.findByRole('checkbox', { name: /records\/fares.band/ });

  await person.click(box);
  expect(await screen.findByText('table/fares.band, needed by records/fares.band')).toBeTruthy();
  expect(sent).toEqual([]);
  await person.click(screen.getByRole('button', { name: 'Leave them in' }));
  expect(screen.queryByText(/needed by/)).toBeNull();

  await person.click(box);
  await person.click(await screen.findByRole('button', { name: 'Take all 2 out' }));
  await waitFor(() => expect(sent[0]?.body).toEqual({ component: 'records/fares.band' }));
});

test('what something else needs stays, and that is said', async () => {
  const { sent, person } = source(taken, {
    'GET /api/v1/drafts/d1/drop': { component: 'records/fares.band', goes: [], stays: 'needed by rule/fares.peak' },
  });

  await person.click(await screen.findByRole('checkbox', { name: /records\/fares.band/ }));

  expect(await screen.findByText('records/fares.band stays in the draft: needed by rule/fares.peak.')).toBeTruthy();
  expect(sent).toEqual([]);
});

test('what was changed since a day is taken, and of what no time is known that is said', async () => {
  const { sent, asked, person } = source(undefined, {
    'GET /api/v1/components': [
      held('rule/fares.peak', { author: 'tove', changedAt: '2027-03-01T08:00:00Z' }),
      held('rule/fares.day', { changedAt: '2027-03-02T08:00:00Z' }),
      held('table/fares.band'),
    ],
  });

  await person.type(await screen.findByLabelText('Changed since'), '2027-03-01');

  await waitFor(() => expect(asked.some((a) => a.includes('changedSince=2027-03-01'))).toBe(true));
  expect(await screen.findByText(/when it was changed is not told/)).toBeTruthy();
  await person.click(await screen.findByRole('button', { name: 'Take all 2 that match' }));
  await waitFor(() =>
    expect(sent[0]?.body).toMatchObject({
      picks: [{ component: 'rule/fares.peak' }, { component: 'rule/fares.day' }],
    }),
  );
});

test('what could not be taken is named', async () => {
  source(draft({ state: 'open', notTaken: ['records/fares.lane: its key is made by the database'] }));

  expect(await screen.findByText('One could not be taken:')).toBeTruthy();
  expect(screen.getByText(/its key is made by the database/)).toBeTruthy();
});

test('a component is read before it is picked', async () => {
  const { person } = source(undefined, {
    'GET /api/v1/components/content': {
      component: 'rule/fares.peak',
      text: '{ "factor": 2 }',
      cut: false,
      rows: 0,
      counts: {},
      parts: [
        {
          part: 'content/',
          difference: 'changed',
          mayTakeBoth: false,
          attributes: [{ name: 'factor', present: '1', incoming: '2', presentAbsent: false, incomingAbsent: false }],
        },
      ],
      differing: [],
    },
  });

  await person.click(await screen.findByRole('button', { name: /Read it rule\/fares.peak/ }));

  expect(await screen.findByText('factor')).toBeTruthy();
  expect(screen.getByLabelText('What rule/fares.peak holds').textContent).toBe('{ "factor": 2 }');
});

test('rows are taken by key columns and a condition', async () => {
  const { sent, person } = source();

  await person.click(await screen.findByRole('button', { name: /Read it records\/fares.band/ }));
  await person.type(screen.getByLabelText('Key columns'), 'line, code');
  await person.type(screen.getByLabelText('Only rows with'), "zone = 'N'");
  await person.click(screen.getByRole('button', { name: 'Take these rows' }));

  await waitFor(() =>
    expect(sent[0]?.body).toMatchObject({
      picks: [{ component: 'records/fares.band', key: ['line', 'code'], where: "zone = 'N'" }],
    }),
  );
});

test('rows are taken as they are, under another policy', async () => {
  const { sent, person } = source();

  await person.click(await screen.findByRole('button', { name: /Read it records\/fares.band/ }));
  await person.click(screen.getByLabelText('Rows of a site'));
  await person.click(screen.getByRole('option', { name: 'Mirror: others go' }));
  await person.click(screen.getByRole('button', { name: 'Take these rows' }));

  await waitFor(() =>
    expect(sent[0]?.body).toEqual(
      expect.objectContaining({
        picks: [{ component: 'records/fares.band', generatedKeyConfirmed: true, policy: 'mirror' }],
      }),
    ),
  );
});

const cents = {
  component: 'table/fares.band',
  column: 'price',
  expression: 'round(price * 100)::integer',
  back: false,
};

test('what a column is worked out from is stated, for the way back too', async () => {
  const { sent, person } = show(<Conversions id="d1" open tables={['table/fares.band']} stated={[]} />, {
    'POST /api/v1/drafts/d1/convert': draft(),
  });

  await person.click(screen.getByRole('button', { name: 'State what a column is worked out from' }));
  await person.click(screen.getByRole('button', { name: /^State it/ }));
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Column'), 'price');
  await person.type(screen.getByLabelText('Expression'), 'price / 100.0');
  await person.click(screen.getByRole('checkbox', { name: 'For going back' }));
  expect(screen.getByText('SQL over the columns that the table has at the source')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: /^State it/ }));

  await waitFor(() =>
    expect(sent[0]?.body).toEqual({
      component: 'table/fares.band',
      column: 'price',
      expression: 'price / 100.0',
      back: true,
    }),
  );
});

test('what was stated is shown and taken back', async () => {
  const { sent, person } = show(<Conversions id="d1" open tables={['table/fares.band']} stated={[cents]} />, {
    'POST /api/v1/drafts/d1/convert': draft(),
  });

  expect(screen.getByText('round(price * 100)::integer')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Take back' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ component: 'table/fares.band', column: 'price', back: false }));
});

test('of a sealed draft it is read alone', () => {
  show(<Conversions id="d1" open={false} tables={['table/fares.band']} stated={[{ ...cents, back: true }]} />);

  expect(screen.getByText(/Going back, price of table\/fares.band by/)).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
});
