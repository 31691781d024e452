// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import RolesPage from './RolesPage';

function RolesRoutes() {
  return (
    <Routes>
      <Route path="/setup/roles" element={<RolesPage />} />
      <Route path="/setup/roles/:key" element={<RolesPage />} />
    </Routes>
  );
}

const TESTER = { key: 'tester', name: 'Tester', rights: ['look', 'judge'], revision: 3 };

function page(answers: Record<string, unknown> = {}) {
  return show(
    <RolesRoutes />,
    {
      'GET /api/v1/roles': [TESTER],
      'GET /api/v1/rights': [
        { right: 'look', words: 'see what is there' },
        { right: 'judge', words: 'say whether it is good' },
        { right: 'run', words: 'start what is agreed' },
      ],
      'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
      'GET /api/v1/history': { items: [] },
      ...answers,
    },
    '/setup/roles',
  );
}

test('a role is changed as it was looked at, with what it means beforehand', async () => {
  const { sent, person } = page({ 'PUT /api/v1/roles/tester': TESTER });

  await person.click(await screen.findByRole('button', { name: 'Change tester' }));
  expect(await screen.findByText(/Whoever holds it has this from then on/)).toBeTruthy();
  await person.click(await screen.findByLabelText('run: start what is agreed'));
  await person.click(screen.getByLabelText('judge: say whether it is good'));
  await person.click(screen.getByRole('button', { name: 'Save' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toEqual({
    what: 'PUT /api/v1/roles/tester',
    body: { name: 'Tester', rights: ['look', 'run'], revision: 3 },
  });
});

test('a role is made when it has a key and a right, and not before', async () => {
  const { sent, person } = page({ 'PUT /api/v1/roles/watch': TESTER });

  await person.type(await screen.findByLabelText('Key'), 'watch');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  expect(sent).toHaveLength(0);
  await person.click(await screen.findByLabelText('look: see what is there'));
  await person.click(screen.getByRole('button', { name: 'Save' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ name: 'watch', rights: ['look'] });
});

test('a role that somebody holds stays, and it is said who', async () => {
  const { person } = page({
    'DELETE /api/v1/roles/tester': new Refused(409, {
      code: 'ROLE_HELD',
      detail: 'The role tester is held by edda.',
      next: ['Take it away from them first'],
    }),
  });

  await person.click(await screen.findByRole('button', { name: 'Remove tester' }));

  expect(await screen.findByText(/held by edda/)).toBeTruthy();
});

test('who may not change roles reads them', async () => {
  const { sent, person } = page({
    'GET /api/v1/session/may': { allowed: false, why: 'You lack administer everywhere', who: ['admin'] },
  });

  expect(await screen.findByText('look, judge')).toBeTruthy();
  await person.type(await screen.findByLabelText('Key'), 'watch');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  expect(sent).toHaveLength(0);
});
