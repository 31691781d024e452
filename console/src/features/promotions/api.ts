import { queryOptions } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { asked } from '../../shared/data/filters';
import { pages } from '../../shared/data/lists';

export { applications, stages, versions } from '../../shared/data/lists';

export type Promotion = Schemas['PromotionView'];

/** What the filters ask for, newest first. */
export const promotions = (filters: Record<string, string>, size: number) =>
  pages(['promotions', 'list', filters, size], (cursor) =>
    unwrap(client.GET('/api/v1/promotions', { params: { query: { ...asked(filters), cursor, limit: size } } })),
  );

export const promotion = (number: string) =>
  queryOptions({
    queryKey: ['promotions', number],
    queryFn: () => unwrap(client.GET('/api/v1/promotions/{number}', { params: { path: { number } } })),
    refetchInterval: (q) => (q.state.data?.state === 'preparing' || q.state.data?.state === 'running' ? 700 : 15_000),
  });

/** As it was last compared. */
export const carryOver = (number: string, at: string | undefined) =>
  queryOptions({
    queryKey: ['promotions', number, 'carry-over', at],
    queryFn: () => unwrap(client.GET('/api/v1/promotions/{number}/carry-over', { params: { path: { number } } })),
  });

export type Rehearsal = Schemas['RehearsalView'];

/** Those of a promotion, the newest first; asked again while one goes on. */
export const schedules = (number: string) =>
  queryOptions({
    queryKey: ['promotions', number, 'schedules'],
    queryFn: () => unwrap(client.GET('/api/v1/schedules', { params: { query: { promotion: number } } })),
    refetchInterval: 15_000,
  });

export const rehearsals = (number: string) =>
  queryOptions({
    queryKey: ['promotions', number, 'rehearsals'],
    queryFn: () => unwrap(client.GET('/api/v1/rehearsals', { params: { query: { promotion: number } } })),
    refetchInterval: (q) => (q.state.data?.items.some((r) => !r.ended) ? 700 : 15_000),
  });

export const rows = (
  number: string,
  component: number,
  difference: string,
  { from, find, all }: { from: number; find: string; all: boolean },
  comparedAt: string,
) =>
  queryOptions({
    queryKey: [
      'promotions',
      number,
      'rows',
      { component, difference, from, find, all, comparedAt },
    ] as readonly unknown[],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/promotions/{number}/rows', {
          params: {
            path: { number },
            query: { component, difference, cursor: String(from), find: find || undefined, all: all || undefined },
          },
        }),
      ),
    staleTime: Infinity,
  });
