// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { no, wayBack, yes } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import StagePage from './StagePage';

const together = (more: Partial<Schemas['StageWay']> = {}): Schemas['StageWay'] => ({
  way: 'earlier-version',
  possible: true,
  why: '',
  lost: 0,
  covered: true,
  fingerprint: '7c1e-90ab-k3mz',
  fullFingerprint: 'f'.repeat(64),
  ...more,
});

const stage = (more: Partial<Schemas['StageWays']> = {}): Schemas['StageWays'] => ({
  application: 'fares',
  stage: 'production',
  production: true,
  leaving: '2.6.1',
  sites: [
    { site: 'production/north', present: '2.6.1', leaves: true, ways: [wayBack()] },
    { site: 'production/south', present: '2.6.1', leaves: true, ways: [wayBack({ lost: 2 })] },
    { site: 'production/west', present: '2.6.0', leaves: false, ways: [] },
  ],
  ways: [together()],
  may: yes,
  ...more,
});

const open = (answer: Schemas['StageWays'], more: Record<string, unknown> = {}) =>
  show(
    <StagePage />,
    {
      'GET /api/v1/rollback/sites': answer,
      'POST /api/v1/rollback/sites': [
        { site: 'production/north', promotion: 'P-8', run: 'R-8', gates: [], problem: '' },
        {
          site: 'production/south',
          promotion: 'P-9',
          gates: [{ code: 'approval', words: 'approval 0 of 2', right: 'approve' }],
          problem: '',
        },
        { site: 'production/east', gates: [], problem: 'The site does not answer.' },
      ],
      ...more,
    },
    '/rollback/fares/production?leaving=2.6.1',
    '/rollback/:application/:stage',
  );

test('each site says what it holds and loses, and which stays', async () => {
  const { asked } = open(stage());

  const table = await screen.findByRole('table', { name: 'Sites' });
  const rows = within(table).getAllByRole('row');
  expect(rows[1]?.textContent).toContain('production/north2.6.1Loses nothing');
  expect(rows[2]?.textContent).toContain('Loses 2 rows or values');
  expect(rows[3]?.textContent).toContain('2.6.0, stays as it is');
  expect(asked[0]).toContain('leaving=2.6.1');
});

test('they go back with one reason, and each site tells what came of it', async () => {
  const { sent, person } = open(stage());
  const go = await screen.findByRole('button', { name: 'Put fares back at production/north, production/south' });

  await person.click(go);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Why do you go back?'), 'Wrong fares');
  await person.type(screen.getByLabelText('Type fares to confirm'), 'fares');
  await person.click(go);

  await waitFor(() =>
    expect(sent[0]?.body).toMatchObject({
      application: 'fares',
      stage: 'production',
      leaving: '2.6.1',
      way: 'earlier-version',
      expect: 'f'.repeat(64),
    }),
  );
  expect((await screen.findByRole('link', { name: 'R-8 runs' })).getAttribute('href')).toBe('/runs/R-8');
  expect(screen.getByText(/waits for: approval 0 of 2/)).toBeTruthy();
  expect(screen.getByText('The site does not answer.')).toBeTruthy();
});

test('nothing is chosen where something would be lost, and a closed way says where', async () => {
  open(
    stage({
      ways: [together({ lost: 2 }), together({ way: 'backup', possible: false, why: 'production/south: No run.' })],
    }),
  );

  expect((await screen.findAllByText(/Loses 2 rows or values/)).length).toBe(2);
  expect(screen.getByRole<HTMLInputElement>('radio', { name: /Re-apply/ }).checked).toBe(false);
  expect(screen.getByRole<HTMLInputElement>('radio', { name: /Restore/ }).disabled).toBe(true);
  expect(screen.getByText('Cannot be used: production/south: No run.')).toBeTruthy();
});

test('who may not go back reads why', async () => {
  open(stage({ may: no('right', 'You lack the right “go back” here.', 'tove') }));

  expect(await screen.findByText('You lack the right “go back” here. Who can: tove.')).toBeTruthy();
});

test('a stage without a version asks nothing', async () => {
  open(stage({ leaving: undefined, ways: [], sites: [{ site: 'production/north', leaves: false, ways: [] }] }));

  expect(await screen.findByText('No site of this stage has a version.')).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
});
