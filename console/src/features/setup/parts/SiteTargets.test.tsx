// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../../shared/data/api';
import { yes } from '../../../shared/testing/samples';
import { show } from '../../../shared/testing/page';
import { StagePanel } from './StagePanel';

const connection = (name: string, sort: string): Schemas['ConnectionView'] => ({
  stage: 'test',
  name,
  sort,
  host: 'db.example',
  port: 5432,
  database: 'fares',
  path: '',
  account: name,
  tls: 'verify-full',
  options: {},
  lentTo: [],
  leadsTo: 'db.example',
  hasSecret: true,
  revision: 1,
});

const stage: Schemas['StageView'] = {
  key: 'test',
  name: 'Test',
  role: 'test',
  position: 1,
  zone: 'UTC',
  driftCloses: false,
  revision: 1,
  sites: [
    {
      key: 'main',
      targets: [
        {
          id: 'test/main/database~1',
          key: 'database',
          sort: 'postgresql',
          schemas: ['fares'],
          looking: 'look',
          changing: 'change',
          scratch: '',
        },
      ],
    },
  ],
};

test('who is kept out of a site without a host is said with its targets', async () => {
  const { sent, person } = show(<StagePanel s={stage} />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/connections': [connection('look', 'postgresql'), connection('change', 'postgresql')],
    'PUT /api/v1/stages/test/sites/main': stage,
  });
  await person.click(screen.getByText('Change Test, its sites and its connections'));
  await person.click(await screen.findByText('Change where test/main leads'));
  const form = within(screen.getByRole('form', { name: 'Change where test/main leads' }));
  expect(form.queryByLabelText('File beside the directory meanwhile')).toBeNull();

  await person.type(form.getByLabelText('Accounts kept out meanwhile'), 'desk, portal');
  await person.click(form.getByLabelText('End their sessions when the wait is over'));
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.click(form.getByRole('button', { name: 'Change the targets of test/main' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({
    targets: [{ sort: 'postgresql', doors: { names: ['desk', 'portal'], end: true } }],
  });
});

test('the targets of a site are changed as a whole list, and what stays keeps its identity', async () => {
  const { sent, person } = show(<StagePanel s={stage} />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/connections': [
      connection('look', 'postgresql'),
      connection('change', 'postgresql'),
      connection('files', 'directory'),
    ],
    'PUT /api/v1/stages/test/sites/main': stage,
  });

  await person.click(screen.getByText('Change Test, its sites and its connections'));
  const title = await screen.findByText('Change where test/main leads');
  await person.click(title);
  const form = within(screen.getByRole('form', { name: 'Change where test/main leads' }));
  expect(form.getByText(/what is left out is looked at no more/)).toBeTruthy();
  expect(form.queryByLabelText('Site')).toBeNull();
  await person.click(form.getByRole('combobox', { name: /Directory of files/ }));
  await person.click(await screen.findByRole('option', { name: 'files' }));
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.click(form.getByRole('button', { name: 'Change the targets of test/main' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toEqual({
    what: 'PUT /api/v1/stages/test/sites/main',
    body: {
      key: 'main',
      targets: [
        {
          id: 'test/main/database~1',
          key: 'database',
          sort: 'postgresql',
          schemas: ['fares'],
          looking: 'look',
          changing: 'change',
          scratch: '',
        },
        { key: 'files', sort: 'directory', schemas: [], looking: 'files', changing: 'files', scratch: '' },
      ],
    },
  });
});
