// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import type { Draft } from './api';
import { Trial } from './Trial';

const draft = { id: 'D-7', application: 'fares', state: 'open' } as Draft;
const stage = (key: string, role: string, ...sites: string[]) => ({
  key,
  name: key,
  role,
  sites: sites.map((s) => ({ key: s, targets: [] })),
});
const tried = {
  number: 'RH-4',
  promotion: '',
  draft: 'D-7',
  application: 'fares',
  version: '2.7.0',
  site: 'test/main',
  fingerprint: '',
  ofThisPlan: true,
  by: 'ines',
  began: '2027-03-02T22:00:00Z',
  ended: '2027-03-02T22:00:04Z',
  result: 'failed',
  sentence: '1 blocker at test/main: A column is missing.',
  parts: [],
  beside: [],
  mayStop: false,
};

const server = (...items: unknown[]) => ({
  'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  'GET /api/v1/stages': [stage('development', 'development', 'main'), stage('test', 'test', 'main', 'other')],
  'GET /api/v1/rehearsals': { items },
  'POST /api/v1/drafts/D-7/try': tried,
});

test('a draft is tried at a copy of a site, never at its source', async () => {
  const { sent, person } = show(<Trial d={draft} />, server());
  const act = await screen.findByRole('button', { name: /^Try D-7 at a copy of test\/main/ });
  expect(screen.queryByText(/development\/main/)).toBeNull();
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());

  await person.click(act);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({ what: 'POST /api/v1/drafts/D-7/try', body: { site: 'test/main' } });
});

test('what came of it is said, and a sealed draft is tried no more', async () => {
  show(<Trial d={{ ...draft, state: 'sealed' }} />, server(tried));

  expect(await screen.findByText('1 blocker at test/main: A column is missing.')).toBeTruthy();
  expect(screen.queryByRole('button', { name: /^Try D-7/ })).toBeNull();
});
