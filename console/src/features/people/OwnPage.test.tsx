// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import OwnPage from './OwnPage';

const ME = {
  login: 'edda',
  name: 'Edda Brandt',
  mustChangePassword: false,
  until: '2026-11-28T08:00:00Z',
  grants: [{ right: 'look', stage: 'test', application: '*' }],
  version: '0.1.0',
};

function page(answers: Record<string, unknown> = {}, me: object = ME) {
  return show(<OwnPage />, {
    'GET /api/v1/session': me,
    'GET /api/v1/people/edda/keys': [],
    'GET /api/v1/rights': [{ right: 'look', words: 'see what is there' }],
    'GET /api/v1/stages': [{ key: 'test', name: 'Test' }],
    'GET /api/v1/applications': { items: [{ key: 'fares' }] },
    ...answers,
  });
}

const row = () => screen.findByRole('row', { name: 'look test every application' });

test('somebody reads what they may', async () => {
  page();

  expect(await row()).toBeTruthy();
  expect(await screen.findByText('Nowhere signed in, and no tokens.')).toBeTruthy();
});

test('who may nothing is told who gives rights', async () => {
  page({}, { ...ME, grants: [] });

  expect(await screen.findByText(/Whoever administers gives rights/)).toBeTruthy();
});

test('a token is narrowed, told once, and its label is asked for', async () => {
  const { sent, person } = page({
    'POST /api/v1/tokens': { id: 'a', label: 'build', expiresAt: '2026-12-28T08:00:00Z', secret: 'SECRET-ONCE' },
  });
  await row();
  const make = screen.getByRole('button', { name: 'Make it' });

  await person.click(make);
  expect(sent).toHaveLength(0);
  await person.type(screen.getByLabelText('What it is for'), 'build');
  await person.clear(screen.getByLabelText('Days'));
  await person.type(screen.getByLabelText('Days'), '91');
  await person.click(make);
  expect(sent).toHaveLength(0);
  await person.clear(screen.getByLabelText('Days'));
  await person.type(screen.getByLabelText('Days'), '30');
  await person.click(screen.getByLabelText('Only these rights'));
  await person.click(await screen.findByRole('option', { name: 'look' }));
  await person.click(make);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({
    label: 'build',
    days: 30,
    only: { rights: ['look'], stages: [], applications: [] },
  });
  expect(await screen.findByText('SECRET-ONCE')).toBeTruthy();
});

test('the password is changed with the present one, and a refusal is read', async () => {
  const { sent, person } = page({
    'PUT /api/v1/session/password': new Refused(422, {
      code: 'PASSWORD',
      detail: 'The present password is another one.',
      next: [],
    }),
  });
  await row();

  await person.type(screen.getByLabelText('Present password'), 'guess');
  await person.type(screen.getByLabelText('New password'), 'long enough 1');
  await person.click(screen.getByRole('button', { name: 'Change the password' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ old: 'guess', password: 'long enough 1' });
  expect(await screen.findByText('The present password is another one.')).toBeTruthy();
});
