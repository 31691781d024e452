import { expect, it } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { groupsOf, joined, linkOf, notGood } from './model';

it('counts what is not good, worst first, and never the good', () => {
  const stage = (conditions: Record<string, number>) => ({ key: 'test', name: 'Test', production: false, conditions });

  expect(notGood(stage({ good: 7, drifted: 2, 'half written': 1 }))).toEqual([
    ['half written', 1],
    ['drifted', 2],
  ]);
  expect(notGood(stage({ good: 7, 'never here': 3 }))).toEqual([]);
});

it('leads to promotions and runs, and nowhere for what it does not know', () => {
  expect(linkOf('P-3')).toBe('/promotions/P-3');
  expect(linkOf('R-9')).toBe('/runs/R-9');
  expect(linkOf('W-2')).toBe('/waves/W-2');
  expect(linkOf('X-1')).toBeNull();
});

const cell = (site: string, version: string | undefined, more: Partial<Schemas['StandingCell']> = {}) =>
  ({
    site,
    version,
    condition: version ? 'good' : 'never here',
    note: '',
    since: '2027-01-31T08:00:10Z',
    judged: true,
    behind: 0,
    owes: [],
    yesOwed: [],
    activityText: '',
    ...more,
  }) as unknown as Schemas['StandingCell'];
const line = (...cells: Schemas['StandingCell'][]) => ({ application: 'fares', cells }) as Schemas['StandingLine'];

it('says once what stands alike, the newest first', () => {
  const of = groupsOf(
    line(
      cell('production/north', '2.4.0', { behind: 2 }),
      cell('production/south', '2.6.1'),
      cell('production/west', '2.6.1', { since: '2027-01-31T08:00:50Z' }),
      cell('test/main', '2.6.1'),
    ),
    'production',
  );

  expect(of.map((g) => [g.sites, g.cell.version])).toEqual([
    [['south', 'west'], '2.6.1'],
    [['north'], '2.4.0'],
  ]);
  expect(of[0]?.since).toBe('2027-01-31T08:00:10Z');
});

it('says last where nothing is yet', () => {
  const of = groupsOf(line(cell('test/a', undefined), cell('test/b', '1.0.0', { behind: 3 })), 'test');

  expect(of.map((g) => g.sites)).toEqual([['b'], ['a']]);
});

it('says no time that is not that of all of them', () => {
  const of = groupsOf(
    line(cell('test/a', '1.0.0'), cell('test/b', '1.0.0', { since: '2027-02-01T08:00:10Z' })),
    'test',
  );

  expect(of[0]?.sites).toEqual(['a', 'b']);
  expect(of[0]?.since).toBeUndefined();
});

it.each([
  [{ condition: 'drifted' }, 'what is wrong'],
  [{ judged: false }, 'whether it was judged'],
  [{ activityText: 'waiting for you' }, 'what is under way'],
  [{ closedBy: 'ines' }, 'who closed it'],
  [{ yesOwed: [{ promotion: 'P-7', until: '2027-03-01T08:00:00Z', overdue: false }] }, 'what it owes'],
  [{ owes: ['2.4.2'] }, 'what it lacks'],
])('says apart where sites differ: %j', (more, what) => {
  expect(groupsOf(line(cell('test/a', '1.0.0'), cell('test/b', '1.0.0', more)), 'test'), what).toHaveLength(2);
});

it('says what is wrong at each site, also where it is the same', () => {
  const drifted = { condition: 'drifted', note: '1 part differs' };

  expect(groupsOf(line(cell('test/a', '1.0.0', drifted), cell('test/b', '1.0.0', drifted)), 'test')).toHaveLength(2);
});

it('follows a version from stage to stage, and nothing where nothing is', () => {
  const of = (version?: string) => groupsOf(line(cell('test/a', version)), 'test');

  expect(joined(of('1.0.0'), of('1.0.0'))).toBe(true);
  expect(joined(of('1.0.0'), of('0.9.0'))).toBe(false);
  expect(joined(of(), of())).toBe(false);
  expect(joined(undefined, of('1.0.0'))).toBe(false);
  expect(joined(of('1.0.0'), undefined)).toBe(false);
});
