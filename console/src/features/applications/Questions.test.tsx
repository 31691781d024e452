// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { yes } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import { Questions } from './Questions';

const app: Schemas['ApplicationView'] = {
  id: '1',
  key: 'fares',
  name: 'Fares',
  owner: 'Fares desk',
  description: '',
  support: {},
  schema: 'fares',
  furtherSchemas: [],
  paths: ['ordinary'],
  privateColumns: [],
  questions: [{ name: 'night', question: '{"a":1}', mustStay: true, sort: 'host' }],
  revision: 1,
};

test('questions are kept as a list, each with whom it asks and what is expected', async () => {
  const { sent, person } = show(<Questions app={app} />, {
    'GET /api/v1/session/may': yes,
    'PUT /api/v1/applications/fares': app,
  });
  const save = await screen.findByRole('button', { name: /^Save the questions/ });

  await person.click(screen.getByRole('button', { name: 'Add a question' }));
  await person.click(save);
  expect(sent).toEqual([]);
  await person.type(screen.getAllByLabelText('Name')[1]!, 'page');
  await person.type(screen.getAllByLabelText('Question, address, query or path')[1]!, 'https://a.example');
  await person.type(screen.getAllByLabelText('Answer expected afterwards')[1]!, 'ok');
  await person.click(screen.getAllByLabelText('Must stay as before')[1]!);
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.click(save);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({
    questions: [
      { name: 'night', question: '{"a":1}', mustStay: true, sort: 'host' },
      { name: 'page', question: 'https://a.example', mustStay: false, sort: 'host', expected: 'ok' },
    ],
  });
});
