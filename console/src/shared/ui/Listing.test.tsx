// @vitest-environment happy-dom
import { useInfiniteQuery } from '@tanstack/react-query';
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { asked, useFilters } from '../data/filters';
import { client, unwrap } from '../data/api';
import { pages } from '../data/lists';
import { show } from '../testing/page';
import { Listing, Narrow } from './Listing';

function List() {
  const filters = useFilters({ state: 'open', application: '' });
  const all = useInfiniteQuery(
    pages(['drafts', filters.values, filters.size], (cursor) =>
      unwrap(
        client.GET('/api/v1/drafts', { params: { query: { ...asked(filters.values), cursor, limit: filters.size } } }),
      ),
    ),
  );
  return (
    <>
      <Narrow of={filters} name="state" label="State" any="any" choices={['open', 'sealed']} />
      <Narrow of={filters} name="application" label="Application" choices={[['fares', 'Fares']]} />
      <Listing of={all} filters={filters} label="Drafts" heads={['Draft']} none="Begin one">
        {(d) => (
          <tr key={d.id}>
            <td>{d.id}</td>
          </tr>
        )}
      </Listing>
    </>
  );
}

const drafts = (n: number) => Array.from({ length: n }, (_, i) => ({ id: `D-${i + 1}` }));
const where = () => screen.getByLabelText('where').textContent;
const last = (asked: string[]) => new URL(asked[asked.length - 1] ?? '', 'http://x').searchParams;

test('what is usual is asked for and stands in no address', async () => {
  const { asked: calls } = show(<List />, { 'GET /api/v1/drafts': { items: drafts(1) } }, '/drafts');

  await screen.findByText('D-1');
  expect(where()).toBe('/drafts');
  expect(Object.fromEntries(last(calls))).toEqual({ state: 'open', limit: '100' });
  expect(screen.queryByText(/shown/)).toBeNull();
});

test('an address says what the list is narrowed to, and any is asked for as nothing', async () => {
  const { asked: calls } = show(<List />, { 'GET /api/v1/drafts': { items: drafts(30) } }, '/drafts?state=any&size=25');

  await screen.findByText('D-1');
  expect(Object.fromEntries(last(calls))).toEqual({ limit: '25' });
  expect(screen.getByText('30 shown, that is all')).toBeDefined();
});

test('what is chosen goes into the address, and the usual one out of it', async () => {
  const { person, asked: calls } = show(<List />, { 'GET /api/v1/drafts': { items: drafts(1) } }, '/drafts');
  await screen.findByText('D-1');

  await person.click(screen.getByRole('combobox', { name: 'State' }));
  await person.click(screen.getByRole('option', { name: 'sealed' }));
  expect(where()).toBe('/drafts?state=sealed');
  await waitFor(() => expect(last(calls).get('state')).toBe('sealed'));

  await person.click(screen.getByRole('combobox', { name: 'State' }));
  await person.click(screen.getByRole('option', { name: 'open' }));
  expect(where()).toBe('/drafts');
});

test('nothing there says the first step, nothing that matches says how to see more', async () => {
  const { person } = show(<List />, { 'GET /api/v1/drafts': { items: [] } }, '/drafts?application=fares');

  await person.click(await screen.findByRole('button', { name: 'Clear filters' }));

  expect(await screen.findByText('Begin one')).toBeDefined();
  expect(where()).toBe('/drafts');
});

test('a value that no choice knows is shown as it is', async () => {
  show(<List />, { 'GET /api/v1/drafts': { items: drafts(1) } }, '/drafts?application=gone');

  await screen.findByText('D-1');
  expect(screen.getByRole('combobox', { name: 'Application' }).textContent).toBe('gone');
});

test('a list that cannot be read says why and nothing else', async () => {
  show(<List />, {}, '/drafts');

  expect((await screen.findByRole('alert')).textContent).toContain('is not known');
  expect(screen.queryByText('Begin one')).toBeNull();
});
