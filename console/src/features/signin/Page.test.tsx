// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import SignInPage from './Page';

test('a refused sign-in says why and keeps the name', async () => {
  const { person } = show(<SignInPage />, {
    'POST /api/v1/session': new Refused(401, {
      code: 'SIGN_IN',
      detail: 'The name or the password is not right.',
      next: ['Try again in 4 seconds'],
    }),
  });

  await person.type(screen.getByLabelText(/^Name/), 'ines');
  await person.type(screen.getByLabelText(/^Password/), 'wrong');
  await person.click(screen.getByRole('button', { name: 'Sign in' }));

  const alert = await screen.findByRole('alert');
  expect(alert.textContent).toContain('The name or the password is not right.');
  expect(alert.textContent).toContain('Try again in 4 seconds');
  expect(screen.getByLabelText<HTMLInputElement>(/^Name/).value).toBe('ines');
});

test('a first password is changed with the present one', async () => {
  const me = { login: 'admin', csrf: 'c' } as Parameters<typeof SignInPage>[0]['change'];
  const { sent, person } = show(<SignInPage change={me} />, { 'PUT /api/v1/session/password': {} });

  expect(screen.queryByLabelText(/^Name/)).toBeNull();
  await person.type(screen.getByLabelText(/^Present password/), 'first-crossing');
  await person.type(screen.getByLabelText(/^New password/), 'morrowick-ferries');
  await person.click(screen.getByRole('button', { name: 'Change the password' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ old: 'first-crossing', password: 'morrowick-ferries' });
});
