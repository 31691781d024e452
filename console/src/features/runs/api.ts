import { queryOptions } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { asked } from '../../shared/data/filters';
import { pages } from '../../shared/data/lists';

export type Run = Schemas['RunView'];

/** Whether its version is recorded at its site; what people do by hand after that holds up no verdict. */
export const isThere = (r: Run) =>
  r.state.startsWith('done') || r.steps.some((s) => s.name === 'Record' && s.state === 'done');

/** What the filters ask for, newest first. */
export const runs = (filters: Record<string, string>, size: number) =>
  pages(['runs', 'list', filters, size], (cursor) =>
    unwrap(client.GET('/api/v1/runs', { params: { query: { ...asked(filters), cursor, limit: size } } })),
  );
export const run = (number: string) =>
  queryOptions({
    queryKey: ['runs', number],
    queryFn: () => unwrap(client.GET('/api/v1/runs/{number}', { params: { path: { number } } })),
    refetchInterval: (q) => (q.state.data?.ended ? false : 2_000),
  });
export const log = (number: string) =>
  queryOptions({
    queryKey: ['runs', number, 'log'],
    queryFn: () => unwrap(client.GET('/api/v1/runs/{number}/log', { params: { path: { number } } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });

/** Files that show what was tried or done in a run. */
export const evidence = (number: string) =>
  queryOptions({
    queryKey: ['evidence', number],
    queryFn: () => unwrap(client.GET('/api/v1/evidence', { params: { query: { run: number, limit: 100 } } })),
  });

/** What stood at the site once it was read back; never changes. */
export const sheet = (number: string) =>
  queryOptions({
    queryKey: ['runs', number, 'sheet'],
    queryFn: () => unwrap(client.GET('/api/v1/runs/{number}/sheet', { params: { path: { number } } })),
    staleTime: Infinity,
  });

/** The promotion that a run carried out: what it brings, in words. */
export const promotion = (number: string) =>
  queryOptions({
    queryKey: ['promotions', number],
    queryFn: () => unwrap(client.GET('/api/v1/promotions/{number}', { params: { path: { number } } })),
  });

/** What was given about an application's runs, the newest first. */
export const evidenceOf = (application: string) =>
  queryOptions({
    queryKey: ['evidence', 'of', application],
    queryFn: () => unwrap(client.GET('/api/v1/evidence', { params: { query: { application } } })),
  });
