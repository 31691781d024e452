// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import { yes } from '../../shared/testing/samples';
import ConnectionPage from './ConnectionPage';
import SetupPage from './Page';
import PathPage from './PathPage';
import PathsPage from './PathsPage';
import StagePage from './StagePage';
import StagesPage from './StagesPage';
import ValuesPage from './ValuesPage';

const stage = (key: string, role: string, sites: object[] = []) => ({
  key,
  name: key.charAt(0).toUpperCase() + key.slice(1),
  role,
  position: 0,
  zone: 'UTC',
  driftCloses: false,
  revision: 1,
  sites,
});
const site = (key: string) => ({
  key,
  targets: [
    { id: 'x', key: 'database', sort: 'postgresql', schemas: ['fares'], looking: 'look', changing: '', scratch: '' },
  ],
});
const STAGES = [
  stage('development', 'development'),
  stage('test', 'test', [site('main')]),
  stage('production', 'production'),
];
const leg = (stage: string, asked: object = {}) => ({
  stage,
  approvals: [],
  approvalDays: 0,
  verdict: false,
  everySite: false,
  soakDays: 0,
  task: '',
  proof: false,
  apart: [],
  ...asked,
});
const ORDINARY = {
  key: 'ordinary',
  name: 'Ordinary',
  source: 'development',
  legs: [leg('test'), leg('production', { approvals: [{ role: '', count: 1 }], verdict: true, words: ['1 approval'] })],
  revision: 4,
};
const RECEIVED = { key: 'received', name: 'Received', legs: [leg('production')], revision: 1 };
const LOOK = {
  stage: 'test',
  name: 'look',
  sort: 'postgresql',
  host: 'db.example',
  port: 5432,
  database: 'fares',
  path: '',
  account: 'look',
  tls: 'verify-full',
  options: {},
  lentTo: [],
  leadsTo: 'look@db.example:5432/fares',
  hasSecret: true,
  revision: 1,
};
const entry = (text: string, event: string) => ({
  sequence: 7,
  at: '2027-01-31T08:00:00Z',
  actor: 'ines',
  event,
  text,
});

const answers = {
  'GET /api/v1/session/may': yes,
  'GET /api/v1/stages': STAGES,
  'GET /api/v1/paths': [ORDINARY, RECEIVED],
  'GET /api/v1/applications': {
    items: [{ key: 'fares', name: 'Fares', owner: 'Ticketing', schema: 'fares', paths: ['ordinary'] }],
  },
  'GET /api/v1/roles': [],
  'GET /api/v1/keys': new Refused(403, { code: 'NOT_ALLOWED', detail: 'no', next: [] }),
  'GET /api/v1/connections': [LOOK],
  'GET /api/v1/history': { items: [entry('approvals 0 to 1', 'stage changed')] },
};

function pages(at: string, more: Record<string, unknown> = {}) {
  return show(
    <Routes>
      <Route path="/setup" element={<SetupPage />} />
      <Route path="/setup/stages" element={<StagesPage />} />
      <Route path="/setup/stages/:key" element={<StagePage />} />
      <Route path="/setup/connections/:stage/:name" element={<ConnectionPage />} />
      <Route path="/setup/paths" element={<PathsPage />} />
      <Route path="/setup/paths/:key" element={<PathPage />} />
      <Route path="/setup/values" element={<ValuesPage />} />
    </Routes>,
    { ...answers, ...more },
    at,
  );
}

const rows = async (name: string) =>
  within(await screen.findByRole('table', { name }))
    .getAllByRole('row')
    .slice(1)
    .map((r) => r.textContent);

test('the set-up stands in the order in which it is done, with what there is', async () => {
  pages('/setup');

  await waitFor(async () => expect((await rows('Set-up'))[0]).toContain('1Stages and connections3 stages, 1 site'));
  const all = await rows('Set-up');
  expect(all[1]).toMatch(/^2Paths2/);
  expect(all[2]).toMatch(/^3Applications1/);
  expect(all[5]).toMatch(/^6Keysnot yours to see/);
  expect(screen.queryByText(/^Next:/)).toBeNull();
  const around = screen.getByRole('navigation', { name: 'Parts of the set-up' });
  expect(within(around).getAllByRole('link')).toHaveLength(11);
  expect(all.every((r) => /[a-z]\.?$/.test(r))).toBe(true);
});

test.each([
  [{ 'GET /api/v1/stages': [] }, 'Next: register the stages'],
  [{ 'GET /api/v1/stages': [stage('test', 'test')] }, 'Next: open a stage, add its connections'],
  [{ 'GET /api/v1/paths': [] }, 'Next: lay a path'],
  [{ 'GET /api/v1/applications': { items: [] } }, 'Next: register an application'],
])('what comes next is said: %#', async (lacks, says) => {
  pages('/setup', lacks);

  expect(await screen.findByText(new RegExp(`^${says}`))).toBeDefined();
});

test('a stage has a page with its changes, and one that is not there is said', async () => {
  const { asked } = pages('/setup/stages/test');

  expect(await screen.findByRole('region', { name: 'Test' })).toBeDefined();
  expect((await rows('Changes'))[0]).toContain('stage changedapprovals 0 to 1');
  expect(asked.some((a) => a.includes('of=stage%2Ftest'))).toBe(true);
});

test('a stage that is not there is said', async () => {
  pages('/setup/stages/harbour');

  expect((await screen.findByRole('alert')).textContent).toContain('There is no stage “harbour”');
});

test('all stages stand in one list, each with its page', async () => {
  pages('/setup/stages');

  const [development, test_, production] = await rows('Stages');
  expect(development).toContain('people edit here');
  expect(test_).toContain('test/main: database');
  expect(production).toContain('hand edits are reported');
  expect(production).toContain('no site yet');
  expect(screen.getByRole('link', { name: 'Production' }).getAttribute('href')).toBe('/setup/stages/production');
});

test('a connection has a page with its changes', async () => {
  const { asked } = pages('/setup/connections/test/look');

  expect(await screen.findByText(/look@db\.example:5432\/fares/)).toBeDefined();
  expect((await rows('Changes')).length).toBe(1);
  expect(asked.some((a) => a.includes('of=connection%2Ftest%2Flook'))).toBe(true);
  expect(screen.getByRole('link', { name: 'Stages and connections' }).className).toContain('active');
  expect(screen.getByRole('link', { name: 'Paths' }).className).not.toContain('active');
});

test('a connection that is not there is said, and what became of it still stands below', async () => {
  pages('/setup/connections/test/gone');

  expect((await screen.findByRole('alert')).textContent).toContain('There is no connection “test/gone”');
  expect((await rows('Changes')).length).toBe(1);
});

test('paths are listed with where versions come from', async () => {
  pages('/setup/paths');

  const [ordinary, received] = await rows('Paths');
  expect(ordinary).toContain('developmenttest, then production');
  expect(received).toContain('versions come as packages');
});

test('a path is changed as it was looked at: a stage is left out, another source is taken', async () => {
  const { sent, person } = pages('/setup/paths/ordinary', { 'PUT /api/v1/paths/ordinary': ORDINARY });

  await person.click(await screen.findByText('Change where it goes'));
  expect(screen.getByRole('link', { name: 'Fares' }).getAttribute('href')).toBe('/applications/fares');
  await person.click(screen.getByRole('button', { name: 'Leave out Test' }));
  await person.click(screen.getByRole('combobox', { name: 'From' }));
  await person.click(screen.getByRole('option', { name: 'nowhere: versions come as packages' }));
  await person.click(screen.getByRole('button', { name: 'Change the path ordinary' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ key: 'ordinary', name: 'Ordinary', legs: [ORDINARY.legs[1]], revision: 4 });
});

test('each leg says what it asks; a role is asked too, and duties are kept apart', async () => {
  const { sent, person } = pages('/setup/paths/ordinary', {
    'PUT /api/v1/paths/ordinary': ORDINARY,
    'GET /api/v1/roles': [{ key: 'owner', name: 'Owner', rights: ['approve'], revision: 1 }],
  });

  expect(await screen.findByText('1 approval')).toBeTruthy();
  expect(screen.getByText('nothing but what holds everywhere: no blocker, connections tested green')).toBeTruthy();
  await person.click(screen.getByText('Change what is asked on the way to Production'));
  const form = within(screen.getByRole('form', { name: 'Change what is asked on the way to Production' }));
  await person.click(form.getByRole('button', { name: 'Ask another role too' }));
  expect(form.getByRole('group', { name: 'Approvals, line 2' }).textContent).toContain('Owner');
  await person.click(form.getByRole('checkbox', { name: 'who sealed it and who approves it' }));
  await person.clear(form.getByLabelText('Days at the stage before'));
  await person.type(form.getByLabelText('Days at the stage before'), '3');
  await person.click(form.getByRole('button', { name: 'Change what Production is asked' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({
    revision: 4,
    legs: [
      ORDINARY.legs[0],
      {
        stage: 'production',
        approvals: [
          { role: '', count: 1 },
          { role: 'owner', count: 1 },
        ],
        verdict: true,
        soakDays: 3,
        apart: ['author-approver'],
      },
    ],
  });
});

test('what an emergency may pass is ticked, and taken away again', async () => {
  const allowed = { people: 1, owes: ['approvals'], hours: 24 };
  const { sent, person } = pages('/setup/paths/ordinary', {
    'GET /api/v1/paths': [
      { ...ORDINARY, legs: [leg('production', { emergency: allowed, words: ['in an emergency'] })] },
    ],
    'PUT /api/v1/paths/ordinary': ORDINARY,
  });

  expect(await screen.findByText('in an emergency')).toBeTruthy();
  await person.click(screen.getByText('Change what is asked on the way to Production'));
  const form = within(screen.getByRole('form', { name: 'Change what is asked on the way to Production' }));
  await person.click(form.getByRole('button', { name: 'Ask another role too' }));
  await person.click(form.getByRole('checkbox', { name: 'the days at the stage before' }));
  await person.click(form.getByRole('button', { name: 'Change what Production is asked' }));
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({ legs: [{ emergency: { people: 1, owes: ['approvals', 'soak'], hours: 24 } }] });

  await person.click(form.getByRole('checkbox', { name: 'the days at the stage before' }));
  await person.click(form.getByRole('checkbox', { name: 'the approvals' }));
  await person.click(form.getByRole('button', { name: 'Change what Production is asked' }));
  await waitFor(() => expect(sent).toHaveLength(2));
  expect(sent[1]?.body).toMatchObject({ legs: [{ emergency: { people: 0, owes: [] } }] });
});

test('production is never left without an approval', async () => {
  const { sent, person } = pages('/setup/paths/ordinary');

  await person.click(await screen.findByText('Change what is asked on the way to Production'));
  const form = within(screen.getByRole('form', { name: 'Change what is asked on the way to Production' }));
  await person.click(form.getByRole('button', { name: 'Ask no more' }));

  expect(form.getByText('Production needs at least one approval.')).toBeTruthy();
  expect(sent).toHaveLength(0);
});

test('a path is laid stage after stage, and not without one', async () => {
  const { sent, person } = pages('/setup/paths', { 'POST /api/v1/paths': RECEIVED });

  await person.click(await screen.findByText('Lay a path'));
  await person.type(screen.getByLabelText('Key'), 'short');
  await person.click(screen.getByRole('button', { name: 'Lay the path' }));
  expect(sent).toHaveLength(0);
  for (const next of ['Production', 'Test']) {
    await person.click(screen.getByRole('combobox', { name: /First stage|Next stage/ }));
    await person.click(screen.getByRole('option', { name: next }));
  }
  await person.click(screen.getByRole('button', { name: 'Lay the path' }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toEqual({ key: 'short', name: 'short', legs: [{ stage: 'production' }, { stage: 'test' }] });
});

test('why a path stays as it is, is said', async () => {
  const { person } = pages('/setup/paths/ordinary', {
    'PUT /api/v1/paths/ordinary': new Refused(409, {
      code: 'CASES_OPEN',
      detail: 'There is an open promotion to what is left out: P-7 to test/main.',
      next: ['plenzo promotion withdraw P-7'],
    }),
  });

  await person.click(await screen.findByText('Change where it goes'));
  await person.click(screen.getByRole('button', { name: 'Change the path ordinary' }));

  expect((await screen.findByRole('alert')).textContent).toContain('P-7 to test/main');
});

test('values are found beside the application that declares them', async () => {
  pages('/setup/values');

  expect((await screen.findByRole('link', { name: 'Values of Fares' })).getAttribute('href')).toBe(
    '/applications/fares#values',
  );
});
