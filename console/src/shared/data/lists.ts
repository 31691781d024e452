import { infiniteQueryOptions, keepPreviousData, queryOptions } from '@tanstack/react-query';
import { client, unwrap } from './api';

/** A page of a list, and where the following one begins. */
export interface Page<T> {
  items: T[];
  next?: string | null;
}

/** The largest page that the service hands out. */
const MOST = 500;

/** All of a list, for choices; page after page. */
export async function everything<T>(read: (cursor?: string) => Promise<Page<T>>): Promise<T[]> {
  const items: T[] = [];
  let cursor: string | undefined;
  do {
    const page = await read(cursor);
    items.push(...page.items);
    cursor = page.next ?? undefined;
  } while (cursor);
  return items;
}

/** A list that is shown a page at a time; what is on the screen stays while another is read. */
export const pages = <T>(
  queryKey: readonly unknown[],
  read: (cursor?: string) => Promise<Page<T>>,
  refetchInterval?: number,
) =>
  infiniteQueryOptions({
    queryKey,
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => read(pageParam),
    getNextPageParam: (last: Page<T>) => last.next ?? undefined,
    placeholderData: keepPreviousData,
    refetchInterval,
  });

/** What was read of it so far; undefined before the first page. */
export function itemsOf<T>(data?: { pages: Page<T>[] }): T[] | undefined {
  return data?.pages.flatMap((p) => p.items);
}

export const stages = () => queryOptions({ queryKey: ['stages'], queryFn: () => unwrap(client.GET('/api/v1/stages')) });

export const paths = () => queryOptions({ queryKey: ['paths'], queryFn: () => unwrap(client.GET('/api/v1/paths')) });

/** Every right that can be given, and what it lets one do. */
export const rights = () =>
  queryOptions({
    queryKey: ['rights'],
    queryFn: () => unwrap(client.GET('/api/v1/rights')),
    staleTime: Infinity,
  });

/** Named sets of rights, by key. */
export const roles = () => queryOptions({ queryKey: ['roles'], queryFn: () => unwrap(client.GET('/api/v1/roles')) });

/** Keys that sign packages here, and those of others. */
export const keys = () => queryOptions({ queryKey: ['keys'], queryFn: () => unwrap(client.GET('/api/v1/keys')) });

/** By key. */
export const applications = () =>
  queryOptions({
    queryKey: ['applications'],
    queryFn: () =>
      everything((cursor) =>
        unwrap(client.GET('/api/v1/applications', { params: { query: { cursor, limit: MOST } } })),
      ),
  });

/** Sealed last first. */
export const versions = (application: string) =>
  queryOptions({
    queryKey: ['versions', application],
    queryFn: () =>
      everything((cursor) =>
        unwrap(client.GET('/api/v1/versions', { params: { query: { application, cursor, limit: MOST } } })),
      ),
  });
