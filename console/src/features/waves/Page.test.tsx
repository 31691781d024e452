// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { show } from '../../shared/testing/page';
import WavesPage from './ListPage';
import WavePage from './Page';

const yes: Schemas['MayView'] = { allowed: true, why: '', who: [] };
const no: Schemas['MayView'] = { allowed: false, code: 'gates', why: 'approval 0 of 1', who: ['bram'] };

const part = (site: string, more: Partial<Schemas['PartView']> = {}): Schemas['PartView'] => ({
  site,
  promotion: `P-${site.length}`,
  present: '2.6.0',
  state: 'ready',
  came: 'not-yet',
  counts: { added: 1, changed: 0, removed: 0, conflict: 0, kept: 0, same: 9 },
  blockers: 0,
  risks: 0,
  takesAway: [],
  approvedBy: [],
  approvers: ['bram'],
  ...more,
});

const waves = (more: Partial<Schemas['WavesView']> = {}): Schemas['WavesView'] => ({
  number: 'W-1',
  application: 'fares',
  version: '2.6.1',
  title: 'Pets on board',
  stage: 'production',
  stageName: 'Production',
  production: true,
  state: 'open',
  sentence: '',
  waves: [[part('production/north')], [part('production/south')]],
  at: 0,
  between: 'word',
  minutes: 0,
  failures: 0,
  preparedBy: 'ines',
  preparedAt: '2027-03-01T08:00:00Z',
  fingerprint: '7c1e-90ab-k3mz',
  fullFingerprint: 'f'.repeat(64),
  closed: ['production/north (P-16): approval 0 of 1'],
  there: 0,
  sites: 2,
  left: [],
  may: { approve: yes, start: no, withdraw: yes, leave: yes, 'go-on': no },
  ...more,
});

const page = (w: Schemas['WavesView'], more: object = {}) =>
  show(<WavePage />, { 'GET /api/v1/waves/W-1': w, ...more }, '/waves/W-1', '/waves/:number');

test('each wave is a table of its sites, and how many have the version is said first', async () => {
  page(
    waves({
      there: 1,
      waves: [[part('production/north', { came: 'there', state: 'done', run: 'R-9' })], [part('production/south')]],
    }),
  );

  expect(await screen.findByText('1 of 2 sites has 2.6.1.')).toBeTruthy();
  expect(screen.getByRole('table', { name: 'Wave 1' }).textContent).toContain('Is there');
  expect(screen.getByRole('table', { name: 'Wave 2' }).textContent).toContain('may be given by bram');
  expect(screen.getByText(/Between waves a person says that it goes on.*stops the rest/)).toBeTruthy();
});

test('one yes is for all sites, to what was on the screen first', async () => {
  const { sent, person } = page(waves(), { 'POST /api/v1/waves/W-1/approve': waves() });

  await person.click(await screen.findByRole('button', { name: /^Approve W-1 for all its sites/ }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ fingerprint: 'f'.repeat(64), comment: '' }));
});

test('it is not started while a gate is closed, and the reason stands beside', async () => {
  const { sent, person } = page(waves());
  await person.click(await screen.findByRole('button', { name: /^Start the first wave/ }));
  expect(sent).toEqual([]);
  expect(screen.getAllByText(/approval 0 of 1 Who can: bram/).length).toBeGreaterThan(0);
});

test('what a site loses is ticked and the name typed before anything starts', async () => {
  const w = waves({
    waves: [[part('production/north', { takesAway: ['37 rows of fares.concession'] })], [part('production/south')]],
    may: { approve: yes, start: yes, withdraw: yes },
  });
  const { sent, person } = page(w, { 'POST /api/v1/waves/W-1/start': w });
  const start = await screen.findByRole('button', { name: /^Start the first wave/ });

  await person.click(start);
  expect(sent).toEqual([]);
  await person.click(screen.getByLabelText('I know that this goes'));
  await person.type(screen.getByLabelText('Type fares to confirm'), 'fares');
  await person.click(start);

  await waitFor(() => expect(sent[0]?.body).toEqual({ fingerprint: 'f'.repeat(64) }));
});

test('the next wave begins on a word', async () => {
  const w = waves({ state: 'waiting', may: { 'go-on': yes } });
  const { sent, person } = page(w, { 'POST /api/v1/waves/W-1/go-on': w });
  expect(await screen.findByText('The next wave waits for a person’s word.')).toBeTruthy();

  await person.click(screen.getByRole('button', { name: /^Begin the next wave/ }));

  await waitFor(() => expect(sent[0]?.what).toBe('POST /api/v1/waves/W-1/go-on'));
});

test('a site is left for later with a reason, and stays owed', async () => {
  const w = waves({
    left: [{ site: 'production/north', by: 'ines', at: '2027-03-01T08:00:00Z', reason: 'no line', owed: true }],
  });
  const { sent, person } = page(w, { 'POST /api/v1/waves/W-1/leave': w });
  expect(await screen.findByText('production/north is left for later by ines: no line; it is owed.')).toBeTruthy();
  const leave = screen.getByRole('button', { name: /^Leave it for later/ });

  await person.click(leave);
  expect(sent).toEqual([]);
  await person.click(screen.getByRole('combobox', { name: 'Site' }));
  await person.click(screen.getByRole('option', { name: 'production/south' }));
  await person.type(screen.getByLabelText('Say why.'), 'closed');
  await person.click(screen.getByRole('button', { name: /^Leave production\/south for later/ }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ site: 'production/south', reason: 'closed' }));
});

test('sites are put into waves before anything is prepared', async () => {
  const { sent, person } = show(
    <WavesPage />,
    {
      'GET /api/v1/waves': { items: [waves()] },
      'GET /api/v1/applications': { items: [{ key: 'fares', name: 'Fares' }] },
      'GET /api/v1/stages': [
        { key: 'production', name: 'Production', role: 'production', sites: [{ key: 'north' }, { key: 'south' }] },
        { key: 'test', name: 'Test', role: 'test', sites: [{ key: 'main' }] },
      ],
      'GET /api/v1/versions': { items: [{ number: '2.6.1', title: 'Pets', withdrawn: false }] },
      'POST /api/v1/waves': waves(),
    },
    '/waves',
  );
  expect(await screen.findByText('0 of 2')).toBeTruthy();
  const choose = async (label: string, option: string) => {
    await person.click(screen.getByRole('combobox', { name: label }));
    await person.click(await screen.findByRole('option', { name: option }));
  };

  await choose('Application', 'Fares');
  await choose('Version', '2.6.1 Pets');
  await choose('Stage', 'Production');
  await choose('Wave of production/north', 'Wave 2');
  await choose('Wave of production/south', 'Wave 1');
  await person.click(screen.getByRole('button', { name: /^Prepare all of them/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({
    application: 'fares',
    version: '2.6.1',
    stage: 'production',
    waves: [['production/south'], ['production/north']],
    between: 'go-on',
  });
});
