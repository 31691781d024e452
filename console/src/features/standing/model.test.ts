import { expect, it } from 'vitest';
import { linkOf, notGood } from './model';

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
  expect(linkOf('X-1')).toBeNull();
});
