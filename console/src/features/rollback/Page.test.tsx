// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { no, wayBack, ways } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import RollbackPage from './Page';

const backup = (more: Partial<Schemas['WayOption']> = {}) =>
  wayBack({ way: 'backup', run: 'R-7', at: '2027-03-01T08:00:00Z', ...more });

const open = (answer: Schemas['Ways'], more: Record<string, unknown> = {}) =>
  show(
    <RollbackPage />,
    {
      'GET /api/v1/rollback/ways': answer,
      'GET /api/v1/versions': { items: [] },
      'POST /api/v1/rollback': { promotion: 'P-8', run: 'R-8' },
      ...more,
    },
    '/rollback/fares/production/main',
    '/rollback/:application/:stage/:site',
  );

const radio = (name: RegExp) => screen.getByRole<HTMLInputElement>('radio', { name });

test('the first way is chosen when none loses anything', async () => {
  open(ways(wayBack(), backup()));

  expect((await screen.findAllByText('Loses nothing')).length).toBe(2);
  expect(radio(/Re-apply/).checked).toBe(true);
});

test('what a way writes is named, and how many others there are', async () => {
  const one = (n: number) => ({ component: `table/fares.t${n}`, removed: 0, changed: 0, added: n });
  const first = { component: 'records/fares.band', removed: 2, changed: 1, added: 0 };
  open(ways(wayBack({ touched: [first, ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map(one)], more: 4 })));

  const list = await screen.findByRole('list', { name: 'What it writes' });

  expect(list.textContent).toContain('records/fares.band: 2 removed, 1 changed back');
  expect(list.textContent).toContain('table/fares.t7: 7 put back');
  expect(list.textContent).not.toContain('table/fares.t8');
  expect(list.textContent).toContain('and 6 more');
});

test('the first way is chosen once a choice has opened both and none loses anything', async () => {
  const shut = { possible: false, why: 'It is used.', lost: -1 };
  const answers: Record<string, unknown> = {
    'GET /api/v1/rollback/ways': ways(wayBack({ ...shut, obstacles: [used()] }), backup(shut)),
    'GET /api/v1/versions': { items: [] },
  };
  const { person } = show(
    <RollbackPage />,
    answers,
    '/rollback/fares/production/main',
    '/rollback/:application/:stage/:site',
  );
  const leave = await screen.findByRole('radio', { name: /Leave them there/ });
  expect(radio(/Re-apply/).checked).toBe(false);

  answers['GET /api/v1/rollback/ways'] = ways(wayBack({ obstacles: [used('keep')] }), backup());
  await person.click(leave);

  await waitFor(() => expect(radio(/Re-apply/).checked).toBe(true));
});

test('none is chosen when one loses something', async () => {
  open(ways(wayBack(), backup({ lost: 1, losses: [{ place: 'fares.band', what: 'rows written since', count: 1 }] })));

  expect(await screen.findByText('Loses 1 row or value')).toBeTruthy();
  expect(radio(/Re-apply/).checked).toBe(false);
  expect(radio(/Restore/).checked).toBe(false);
});

test('what is lost is said place by place and can be saved first', async () => {
  const losses = [
    { place: 'fares.band.note', what: 'values that do not fit', count: 1200 },
    { place: 'fares.band', what: 'rows that do not fit', count: 1 },
  ];
  open(ways(wayBack({ lost: 1201, losses })));

  const table = await screen.findByRole('table', { name: /What is lost/ });
  expect(table.textContent).toContain('fares.band.note');
  expect(table.textContent).toContain('1,200');
  const save = screen.getByRole<HTMLAnchorElement>('link', { name: 'Save what is lost to a file first' });
  expect(save.getAttribute('href')).toContain('way=earlier-version');
});

test('the values of before say what each becomes and that the version stays', async () => {
  const gives = [
    { input: 'terminal-address', from: 'production', shown: 'https://a.example', anew: true },
    { input: 'desk-token', from: 'production/main', anew: true },
  ];
  const { sent, person } = open(
    ways(wayBack({ way: 'earlier-values', version: '2.6.1', run: 'R-31', gives }), wayBack(), backup()),
  );

  const table = await screen.findByRole('table', { name: 'Values that the host is given' });
  expect(table.textContent).toContain('https://a.example');
  expect(table.textContent).toContain('desk-tokenthe host is told to forget the one that it has');
  expect(radio(/Give the earlier values again/).checked).toBe(true);
  expect(screen.getByText(/2\.6\.1 stays; the host has the values again that it had before R-31/)).toBeTruthy();
  await person.type(screen.getByLabelText('Why do you go back?'), 'Wrong address');
  await person.type(screen.getByLabelText('Type fares to confirm'), 'fares');
  await person.click(screen.getByRole('button', { name: 'Give production/main its earlier values' }));
  await waitFor(() => expect(sent[0]?.body).toMatchObject({ way: 'earlier-values' }));
});

test('a way that cannot be used says why and cannot be chosen', async () => {
  open(ways(wayBack({ possible: false, why: 'There is no earlier good version here.' }), backup()));

  expect(await screen.findByText('Cannot be used: There is no earlier good version here.')).toBeTruthy();
  expect(radio(/Re-apply/).disabled).toBe(true);
});

test('no way at all is said once, with each reason', async () => {
  open(ways(wayBack({ possible: false, why: 'None earlier.' }), backup({ possible: false, why: 'No backup.' })));

  expect(await screen.findByText('There is no way back that Plenzo can take')).toBeTruthy();
  expect(screen.getByText(/Re-apply the earlier version: None earlier\./)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /back to/ })).toBeNull();
});

test('it goes back only with a reason and the application typed', async () => {
  const { sent, person } = open(ways(wayBack(), backup()));
  const go = await screen.findByRole('button', { name: /^Put fares back to 2\.6\.0/ });

  await person.click(go);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Why do you go back?'), 'Wrong fares');
  await person.click(go);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Type fares to confirm'), 'fares');
  await person.click(go);

  await waitFor(() => expect(screen.getByLabelText('where').textContent).toBe('/runs/R-8'));
  expect(sent[0]?.body).toMatchObject({
    application: 'fares',
    site: 'production/main',
    way: 'earlier-version',
    reason: 'Wrong fares',
    expect: 'e'.repeat(64),
    confirm: 'fares',
  });
});

test('who may not go back reads why before typing', async () => {
  open({ ...ways(wayBack()), may: no('right', 'You lack the right “go back” here.', 'tove') });

  expect(await screen.findByText('You lack the right “go back” here. Who can: tove.')).toBeTruthy();
});

test.each([
  [true, 'Covered by the approvals of P-7: it starts at once.'],
  [false, 'Not covered by earlier approvals: it becomes a plan that waits for approval.'],
])('says whether it starts at once (%s)', async (covered, sentence) => {
  open(ways(wayBack({ covered }), backup()));

  expect(await screen.findByText(sentence)).toBeTruthy();
});

test('a loss that cannot be known is not called none', async () => {
  open(ways(wayBack({ lost: -1 })));

  expect(await screen.findByText("Loss can't be known")).toBeTruthy();
  expect(screen.queryByText('Loses nothing')).toBeNull();
});

const used = (chosen?: string): Schemas['ObstacleView'] => ({
  at: 'records/fares.concession#in-use',
  count: 2,
  sentence: '2 rows of fares.concession that 2.6.1 brought are used by 3 rows of fares.booking.',
  offers: [
    { choice: 'keep', words: 'Leave them there, left over from 2.6.1', loses: 0 },
    { choice: 'take-incoming', words: 'Remove them, with what hangs on them', loses: 3 },
  ],
  chosen,
  rows: [
    { at: 'records/fares.concession#row/"PET"', key: 'PET', usedBy: '2 rows of fares.booking', chosen },
    { at: 'records/fares.concession#row/"FAMILY"', key: 'FAMILY', usedBy: '1 row of fares.booking', chosen },
  ],
});

const closed = (o = used()) =>
  wayBack({ possible: false, why: '3 rows of fares.booking point at rows that go.', obstacles: [o] });

test('what is in the way is said with the choices that remove it and what each loses', async () => {
  open(ways(closed(), backup({ possible: false, why: 'The same.', obstacles: [used()] })));

  expect((await screen.findAllByText(/Closed until you choose below/)).length).toBe(2);
  expect(screen.queryByText('There is no way back that Plenzo can take')).toBeNull();
  expect(screen.getAllByRole('radio', { name: /Leave them there.*loses nothing/ }).length).toBe(2);
  expect(
    screen.getAllByRole('radio', { name: /Remove them.*loses 3 rows or values\s*, which can be saved first/ }).length,
  ).toBe(2);
});

test('what would be lost is not called nothing before it was chosen', async () => {
  open(ways(closed(), backup({ possible: false, why: 'The same.', obstacles: [used()] })));

  expect(await screen.findByText('what would be lost depends on what you choose')).toBeTruthy();
  expect(screen.queryByText(/nothing written since/)).toBeNull();
});

test('a choice is asked for and sent along', async () => {
  const { person, asked, sent } = open(ways(closed(), backup()));

  await person.click(await screen.findByRole('radio', { name: /Leave them there/ }));
  await waitFor(() =>
    expect(asked.some((a) => decodeURIComponent(a).includes('choice=records/fares.concession#in-use=keep'))).toBe(true),
  );
  await person.click(radio(/Restore/));
  await person.type(screen.getByLabelText('Why do you go back?'), 'Wrong fares');
  await person.type(screen.getByLabelText('Type fares to confirm'), 'fares');
  await person.click(screen.getByRole('button', { name: /^Put fares back/ }));

  await waitFor(() => expect(sent.length).toBe(1));
  expect(sent[0]?.body).toMatchObject({ choices: { 'records/fares.concession#in-use': 'keep' } });
});

test('rows are chosen one by one, and an earlier choice of the same row goes', async () => {
  const { person, asked } = open(ways(closed(used('keep')), backup()));

  await person.click(await screen.findByText('Row by row'));
  await person.click(screen.getByRole('combobox', { name: 'What becomes of PET' }));
  await person.click(await screen.findByRole('option', { name: 'remove it, with what hangs on it' }));

  await waitFor(() => expect(asked.some((a) => decodeURIComponent(a).includes('#row/"PET"=take-incoming'))).toBe(true));
});

test('a structure that people’s values do not fit can stay, which is shown as lossless', async () => {
  const at = 'table/fares.booking#column/note';
  const unfit: Schemas['ObstacleView'] = {
    at,
    count: 3,
    sentence: '3 values of fares.booking.note do not fit character varying(40), which 2.6.0 has.',
    offers: [
      { choice: 'keep', words: 'Leave it as 2.6.1 has it, and the rows too', loses: 0 },
      { choice: 'take-incoming', words: 'Make it as 2.6.0 had it', loses: -1 },
    ],
    chosen: 'take-incoming',
    rows: [],
  };
  const { person, asked } = open(ways(wayBack({ lost: 3, obstacles: [unfit] }), backup()));

  expect(
    await screen.findByRole('radio', { name: /Make it as 2.6.0.*loses what is counted above\s*, which can be saved/ }),
  ).toHaveProperty('checked', true);
  await person.click(screen.getByRole('radio', { name: /Leave it as 2.6.1.*loses nothing/ }));

  await waitFor(() => expect(asked.some((a) => decodeURIComponent(a).includes(`choice=${at}=keep`))).toBe(true));
});

test('a way that writes one target alone says so', async () => {
  open(ways(wayBack({ writes: ['host'] }), backup()));

  expect(await screen.findByText(/Writes the host alone/)).toBeTruthy();
  expect(screen.getByText(/Writes host, database/)).toBeTruthy();
});

test('what was saved is brought in again by a plan, and what does not fit is named', async () => {
  const { person, sent } = open(ways(wayBack(), backup()), {
    'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
    'POST /api/v1/rollback/bring-in': { promotion: 'P-21', notTaken: ['fares.booking 7: it is there by now'] },
  });
  const file = new File(['"fares.booking","""7""","note","x"'], 'lost.csv', { type: 'text/csv' });

  await person.upload(await screen.findByLabelText(/Saved file/), file);
  await person.click(screen.getByRole('button', { name: 'Prepare the plan' }));

  expect(await screen.findByRole('link', { name: 'P-21 is prepared' })).toBeTruthy();
  expect(screen.getByText(/it is there by now/)).toBeTruthy();
  expect(sent[0]?.body).toMatchObject({ application: 'fares', lines: '"fares.booking","""7""","note","x"' });
});
