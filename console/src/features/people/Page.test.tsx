// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import PeoplePage from './ListPage';
import PersonPage from './Page';

const EDDA = {
  login: 'edda',
  name: 'Edda Brandt',
  disabled: false,
  mustChangePassword: false,
  grants: [
    { right: 'look', stage: '*', application: '*' },
    { right: 'run', stage: 'test', application: 'fares' },
  ],
  roles: [{ role: 'tester', stage: 'test', application: '*' }],
  writesAs: ['edda@morrowick.example'],
  revision: 4,
};

const MAY = { allowed: true, why: '', who: [] };

function person(answers: Record<string, unknown> = {}, edda: object = EDDA) {
  return show(
    <Routes>
      <Route path="/people/:login" element={<PersonPage />} />
    </Routes>,
    {
      'GET /api/v1/people/edda': edda,
      'GET /api/v1/people/edda/keys': [
        {
          id: 'aaaabbbbcccc',
          label: 'browser',
          token: false,
          createdAt: '2026-11-27T20:00:00Z',
          expiresAt: '2026-11-28T08:00:00Z',
        },
        {
          id: 'ddddeeeeffff',
          label: 'nightly',
          token: true,
          createdAt: '2026-11-01T20:00:00Z',
          expiresAt: '2027-01-28T08:00:00Z',
          only: { rights: ['look'], stages: ['test'], applications: ['fares'] },
        },
      ],
      'GET /api/v1/stages': [],
      'GET /api/v1/applications': { items: [] },
      'GET /api/v1/rights': [{ right: 'run', words: 'start what is agreed' }],
      'GET /api/v1/roles': [{ key: 'approver', name: 'Approver', rights: ['approve'], revision: 1 }],
      'GET /api/v1/session/may': MAY,
      ...answers,
    },
    '/people/edda',
  );
}

test('a right is taken with the revision that was looked at', async () => {
  const { sent, person: p } = person({ 'PUT /api/v1/people/edda/grants': EDDA });

  await p.click(await screen.findByRole('button', { name: 'Take away run at test for fares' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({
    grants: [{ right: 'look', stage: '*', application: '*' }],
    roles: EDDA.roles,
    revision: 4,
  });
});

test('a role is given, and taken, beside the rights', async () => {
  const { sent, person: p } = person({ 'PUT /api/v1/people/edda/grants': EDDA });

  await p.click(await screen.findByRole('button', { name: 'Take away role tester at test for every application' }));
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ grants: EDDA.grants, roles: [], revision: 4 });

  await p.click(screen.getByLabelText('Role or right'));
  await p.click(await screen.findByRole('option', { name: 'role approver' }));
  await p.click(screen.getByRole('button', { name: 'Give' }));
  await waitFor(() => expect(sent).toHaveLength(2));
  expect(sent[1]?.body).toEqual({
    grants: EDDA.grants,
    roles: [...EDDA.roles, { role: 'approver', stage: '*', application: '*' }],
    revision: 4,
  });
});

test('what a token was narrowed to is read beside it', async () => {
  person();

  const row = (await screen.findByText('only look at test for fares')).closest('tr');
  expect(row?.textContent).toContain('token nightly');
});

test('a session and a token are ended one by one', async () => {
  const { sent, person: p } = person({ 'DELETE /api/v1/people/edda/keys/ddddeeeeffff': {} });

  await screen.findByRole('button', { name: 'End browser aaaabbbbcccc' });
  await p.click(screen.getByRole('button', { name: 'End token nightly' }));

  await waitFor(() => expect(sent).toHaveLength(1));
});

test('a password for once is long enough before it is sent', async () => {
  const { sent, person: p } = person({ 'POST /api/v1/people/edda/password': EDDA });

  const act = await screen.findByRole('button', { name: 'Reset the password' });
  await waitFor(() => expect(screen.getByText('Ten characters at least.')).toBeTruthy());
  await p.click(act);
  expect(sent).toHaveLength(0);
  await p.type(screen.getByLabelText(/^New password/), 'long enough 1');
  await p.click(act);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ password: 'long enough 1' });
});

test('whoever is kept out can be let in again', async () => {
  const { sent, person: p } = person({ 'PUT /api/v1/people/edda': EDDA }, { ...EDDA, disabled: true });

  expect(await screen.findByText('signs in as edda · disabled')).toBeTruthy();
  await p.click(screen.getByRole('button', { name: 'Let edda in again' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ disabled: false });
});

test('who may not is told why, and nothing is sent', async () => {
  const { sent, person: p } = person({
    'GET /api/v1/session/may': { allowed: false, why: 'You lack administer everywhere', who: ['admin'] },
  });

  await p.click(await screen.findByRole('button', { name: 'Keep edda out' }));

  expect(screen.getAllByText(/You lack administer everywhere/).length).toBeGreaterThan(0);
  expect(sent).toHaveLength(0);
});

test('everybody is listed by name, with what keeps them', async () => {
  show(<PeoplePage />, {
    'GET /api/v1/people': {
      items: [
        { ...EDDA, login: 'zita', mustChangePassword: true },
        { ...EDDA, disabled: true },
      ],
    },
    'GET /api/v1/session/may': MAY,
  });

  const rows = await screen.findAllByRole('row');
  expect(rows.slice(1).map((r) => r.textContent)).toEqual([
    'eddaEdda Brandtdisabled3',
    'zitaEdda Brandtmust change the password3',
  ]);
});

test('under which addresses somebody writes is said, all of them anew', async () => {
  const { sent, person: user } = person({ 'PUT /api/v1/people/edda': EDDA });
  const field = await screen.findByLabelText('Writes in repositories as');

  await user.click(screen.getByRole('button', { name: 'Say so' }));
  expect(sent).toEqual([]);
  await user.type(field, ', e.brandt@home.example');
  await user.click(screen.getByRole('button', { name: 'Say so' }));

  await waitFor(() =>
    expect(sent).toMatchObject([
      { what: 'PUT /api/v1/people/edda', body: { writesAs: ['edda@morrowick.example', 'e.brandt@home.example'] } },
    ]),
  );
});
