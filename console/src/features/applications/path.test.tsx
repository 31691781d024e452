// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { show } from '../../shared/testing/page';
import { PathPicture } from './PathPicture';
import { stops } from './path';

const cell = (
  site: string,
  version: string | undefined,
  behind: number,
  more: object = {},
): Schemas['StandingCell'] => ({
  site,
  version,
  behind,
  condition: version ? 'good' : 'never here',
  note: '',
  activityText: '',
  judged: true,
  owes: [],
  yesOwed: [],
  production: site.startsWith('production'),
  since: '2027-01-01T08:00:00Z',
  ...more,
});

const line = (cells: Schemas['StandingCell'][], changed = 3): Schemas['StandingLine'] => ({
  application: 'fares',
  name: 'Fares',
  owner: 'Ticketing team',
  newest: '2.6.1',
  source: 'development',
  seen: { changed, against: '2.6.1', trouble: '', warning: '' },
  cells,
});

const stage = (key: string, name: string, role: string): Schemas['StageView'] => ({
  key,
  name,
  role,
  position: 0,
  zone: 'UTC',
  driftCloses: false,
  sites: [],
  revision: 1,
});
const stages = [stage('test', 'Test', 'test'), stage('production', 'Production', 'production')];
const legs = ['test', 'production'];

test('what lies between two places is counted by its furthest site', () => {
  const path = stops(
    line([cell('test/main', '2.6.1', 0), cell('production/north', '2.4.1', 2), cell('production/south', '2.6.1', 0)]),
    legs,
    stages,
  );

  expect(path.map((s) => [s.stage, s.between, s.level])).toEqual([
    ['test', 0, true],
    ['production', 2, false],
  ]);
});

test('a place that is behind is counted once, not again at the next', () => {
  const path = stops(line([cell('test/main', '2.6.0', 1), cell('production/north', '2.6.0', 1)]), legs, stages);

  expect(path.map((s) => [s.between, s.level])).toEqual([
    [1, false],
    [0, true],
  ]);
});

test('sites that stand alike are said once, and a place where nothing is yet is behind nothing', () => {
  const path = stops(
    line([cell('test/main', undefined, 0), cell('production/north', '2.6.0', 1), cell('production/south', '2.6.0', 1)]),
    legs,
    stages,
  );

  expect(path[0]).toMatchObject({ between: 0, level: false });
  expect(path[1]?.groups.map((g) => g.sites)).toEqual([['north', 'south']]);
});

test('the picture is a list: source, stages, what waits and what is wrong', async () => {
  show(<PathPicture application="fares" legs={legs} stages={stages} />, {
    'GET /api/v1/standing': {
      lines: [
        line([
          cell('test/main', '2.6.1', 0, { condition: 'drifted', note: '1 part differs' }),
          cell('production/north', '2.4.1', 2, {
            activityText: '2.6.1 waiting for you',
            link: 'P-15',
            owes: ['2.4.2'],
          }),
          cell('production/south', '2.6.1', 0, { closedBy: 'ines' }),
        ]),
        { ...line([]), application: 'fares-of-old' },
      ],
    },
    'GET /api/v1/sites/production/south/needs': [
      { component: 'rule/fares.night', need: 'off', text: '' },
      { component: 'rule/fares.day', need: 'unbound', text: '' },
    ],
  });

  const list = await screen.findByRole('list', { name: 'How far each version has come' });
  const [source, test_, production] = within(list)
    .getAllByRole('listitem')
    .map((li) => li.textContent);
  expect(source).toContain('development');
  expect(source).toContain('newest version 2.6.1');
  expect(source).toContain('3 components changed, in no version');
  expect(test_).toContain('Test2.6.1');
  expect(test_).toContain('1 part differs');
  expect(production).toContain('2 versions behind the newest version');
  expect(production).toContain('lacks 2.4.2');
  expect(production).toContain('only operators are let in, since ines');
  await waitFor(() => expect(list.textContent).toContain('1 component is off'));
  expect(screen.getByRole('link', { name: '2.6.1 waiting for you' }).getAttribute('href')).toBe('/promotions/P-15');
});

test('an application that may not be seen has no picture', async () => {
  const { asked } = show(<PathPicture application="fares" legs={legs} stages={stages} />, {
    'GET /api/v1/standing': { lines: [] },
  });

  await waitFor(() => expect(asked.some((a) => a.includes('/standing'))).toBe(true));
  expect(screen.queryByRole('list')).toBeNull();
});
