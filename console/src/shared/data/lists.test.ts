import { expect, it } from 'vitest';
import { everything, itemsOf, pages } from './lists';

const three = async (cursor?: string) => ({
  items: [`item of ${cursor ?? 'the first'}`],
  next: cursor === undefined ? '2' : cursor === '2' ? '3' : null,
});

it('reads page after page until there is no more', async () => {
  expect(await everything(three)).toEqual(['item of the first', 'item of 2', 'item of 3']);
});

it('ends with a list that has one page', async () => {
  expect(await everything(async () => ({ items: [1, 2] }))).toEqual([1, 2]);
});

it('knows where the following page begins, and when there is none', () => {
  const list = pages(['x'], three);
  const next = list.getNextPageParam as (last: { items: string[]; next?: string | null }) => string | undefined;

  expect(next({ items: [], next: '7' })).toBe('7');
  expect(next({ items: [], next: null })).toBeUndefined();
  expect(itemsOf({ pages: [{ items: [1] }, { items: [2, 3] }] })).toEqual([1, 2, 3]);
  expect(itemsOf(undefined)).toBeUndefined();
});
