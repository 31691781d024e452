// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { no, wayBack, ways } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import RollbackPage from './Page';

const backup = (more: Partial<Schemas['WayOption']> = {}) =>
  wayBack({ way: 'backup', run: 'R-7', at: '2027-03-01T08:00:00Z', ...more });

const open = (answer: Schemas['Ways']) =>
  show(
    <RollbackPage />,
    {
      'GET /api/v1/rollback/ways': answer,
      'GET /api/v1/versions': { items: [] },
      'POST /api/v1/rollback': { promotion: 'P-8', run: 'R-8' },
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

test('a way that cannot be used says why and cannot be chosen', async () => {
  open(ways(wayBack({ possible: false, why: 'There is no earlier good version here.' }), backup()));

  expect(await screen.findByText('Cannot be used: There is no earlier good version here.')).toBeTruthy();
  expect(radio(/Re-apply/).disabled).toBe(true);
});

test('no way at all is said once, with each reason', async () => {
  open(ways(wayBack({ possible: false, why: 'None earlier.' }), backup({ possible: false, why: 'No backup.' })));

  expect(await screen.findByText('There is no way back that Plenzo can take')).toBeTruthy();
  expect(screen.getByText(/Re-apply the earlier version: None earlier\./)).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
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
