// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import TellingPage from './Page';

const hook = {
  name: 'chat',
  address: 'https://chat.example/in',
  stages: ['production'],
  applications: [],
  events: ['run done'],
  active: true,
  by: 'admin',
  at: '2027-03-02T22:00:00Z',
  revision: 3,
};
const server = {
  'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  'GET /api/v1/webhooks': [hook],
  'GET /api/v1/deliveries': [
    {
      number: 'DV-9',
      webhook: 'chat',
      entry: 41,
      event: 'run done',
      state: 'given-up',
      tries: 8,
      said: 'nobody answers',
      made: '2027-03-02T22:00:00Z',
    },
  ],
  'POST /api/v1/webhooks': { webhook: hook, secret: 'once-only' },
  'POST /api/v1/deliveries/DV-9/replay': {},
  'PUT /api/v1/webhooks/chat': hook,
};
const ready = () => waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());

test('its secret is shown once, when it is registered', async () => {
  const { sent, person } = show(<TellingPage />, server);
  expect(await screen.findByText('run done at production')).toBeTruthy();
  expect(screen.queryByText(/once-only/)).toBeNull();
  await ready();

  await person.click(screen.getByText('Tell another address'));
  await person.type(screen.getByLabelText('Name'), 'board');
  await person.type(screen.getByLabelText('Address (http or https)'), 'https://board.example/in');
  await person.type(screen.getByLabelText('Events, by comma (none: all)'), 'run done, run failed');
  await person.click(screen.getByRole('button', { name: /^Register it/ }));

  expect(await screen.findByText('Its secret, shown once: once-only')).toBeTruthy();
  expect(sent[0]?.body).toMatchObject({ name: 'board', events: ['run done', 'run failed'] });
});

test('what was given up says why and is sent again by a person', async () => {
  const { sent, person } = show(<TellingPage />, server);
  expect((await screen.findByText('nobody answers')).textContent).toContain('nobody answers');
  await ready();

  await person.click(screen.getByRole('button', { name: /^Send DV-9 again/ }));

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/deliveries/DV-9/replay']));
});
