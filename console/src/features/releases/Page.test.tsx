// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import ReleasePage from './Page';

const yes = { allowed: true, why: '', who: [] };
const no = { allowed: false, code: 'gates', why: 'P-7: approval 0 of 1', who: ['bram'] };
const member = {
  promotion: 'P-7',
  version: 'fares@2.7.0',
  title: 'Summer',
  present: '2.6.1',
  state: 'ready',
  takesAway: ['37 rows of fares.concession'],
  blockers: 0,
  risks: 0,
  approvedBy: [],
  approvers: ['bram'],
  counts: { added: 1, changed: 0, removed: 0, conflict: 0, kept: 0, same: 9 },
};
const at = '2027-03-01T08:00:00Z';
const SUMMER = {
  key: 'summer',
  title: 'Summer timetable',
  by: 'ines',
  at,
  members: ['fares@2.7.0', 'boarding@1.1.0'],
  revision: 3,
  cases: [
    {
      site: 'production/north',
      production: true,
      state: 'open',
      sentence: '',
      preparedBy: 'ines',
      preparedAt: at,
      fingerprint: '7c1e-90ab-k3mz',
      fullFingerprint: 'f'.repeat(64),
      closed: ['P-7: approval 0 of 1'],
      skipped: ['boarding@1.1.0'],
      members: [member],
      may: { approve: yes, start: no, withdraw: yes },
    },
  ],
};
const path = (key: string, name: string) => ({ key, name, legs: [{ stage: 'production' }], revision: 1 });
const stage = { key: 'production', name: 'Production', role: 'production', sites: [{ key: 'north', targets: [] }] };

const page = (more: object = {}) =>
  show(
    <Routes>
      <Route path="/releases/:key" element={<ReleasePage />} />
    </Routes>,
    {
      'GET /api/v1/releases/summer': SUMMER,
      'GET /api/v1/stages': [stage],
      'GET /api/v1/paths': [path('ordinary', 'Ordinary'), path('urgent', 'Urgent')],
      'POST /api/v1/releases/summer/prepare': SUMMER,
      ...more,
    },
    '/releases/summer',
  );

test('what it holds, where it was taken and what is still open there', async () => {
  page();

  expect(await screen.findByText('Summer timetable')).toBeTruthy();
  expect(screen.getByText('fares 2.7.0, boarding 1.1.0')).toBeTruthy();
  expect(screen.getAllByText(/approval 0 of 1/).length).toBeGreaterThan(0);
});

test('it is taken to a site by the path that is chosen', async () => {
  const { sent, person } = page();

  await person.click(await screen.findByRole('button', { name: /^Prepare and compare/ }));
  expect(sent).toEqual([]);
  await person.click(screen.getByRole('combobox', { name: /To|Site|site/ }));
  await person.click(screen.getByRole('option', { name: 'production/north' }));
  await person.click(screen.getByRole('combobox', { name: /By the path/ }));
  await person.click(screen.getByRole('option', { name: 'Urgent' }));
  await person.click(screen.getByRole('button', { name: 'Prepare and compare at production/north' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ site: 'production/north', path: 'urgent' });
});

test('what members take away is named, ticked and confirmed by the key of the release', async () => {
  const [open] = SUMMER.cases;
  const { sent, person } = page({
    'GET /api/v1/releases/summer': { ...SUMMER, cases: [{ ...open, may: { ...open?.may, start: yes } }] },
    'POST /api/v1/releases/summer/start': SUMMER,
  });

  expect(await screen.findByText('fares 2.7.0: 37 rows of fares.concession')).toBeTruthy();
  const start = () => person.click(screen.getByRole('button', { name: /^Start Summer timetable/ }));
  await start();
  expect(screen.getByText('Tick that you know what goes.')).toBeTruthy();
  await person.click(screen.getByRole('checkbox', { name: 'I know that this goes' }));
  await start();
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Type summer to confirm'), 'summer');
  await start();

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ site: 'production/north', fingerprint: 'f'.repeat(64) });
});

test('where there is one path, none is asked for', async () => {
  page({ 'GET /api/v1/paths': [path('ordinary', 'Ordinary')] });

  expect(await screen.findByRole('button', { name: /^Prepare and compare/ })).toBeTruthy();
  expect(screen.queryByRole('combobox', { name: /By the path/ })).toBeNull();
});
