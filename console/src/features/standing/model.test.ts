import { expect, it } from 'vitest';
import { linkOf, notGood } from './model';

const seen = { changed: 0, trouble: '', warning: '' };

const cell = (site: string, condition: string) => ({
  site,
  condition,
  production: false,
  note: '',
  activityText: '',
  judged: false,
  owes: [],
  behind: 0,
});

it('counts what is not good, worst first, and never the good', () => {
  const lines = [
    {
      application: 'fares',
      name: 'Fares',
      owner: '',
      source: '',
      seen,
      cells: [cell('test/main', 'drifted'), cell('production/main', 'good')],
    },
    {
      application: 'sailings',
      name: 'Sailings',
      owner: '',
      source: '',
      seen,
      cells: [cell('test/main', 'half written'), cell('test/south', 'drifted')],
    },
  ];

  expect(notGood(lines, 'test')).toEqual([
    ['half written', 1],
    ['drifted', 2],
  ]);
  expect(notGood(lines, 'production')).toEqual([]);
});

it('leads to promotions and runs, and nowhere for what it does not know', () => {
  expect(linkOf('P-3')).toBe('/promotions/P-3');
  expect(linkOf('R-9')).toBe('/runs/R-9');
  expect(linkOf('X-1')).toBeNull();
});
