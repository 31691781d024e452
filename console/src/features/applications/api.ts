import { infiniteQueryOptions, keepPreviousData, queryOptions } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';
import { applications } from '../../shared/data/lists';

export const application = (key: string) =>
  queryOptions({
    ...applications(),
    select: (all) => all.find((a) => a.key === key),
  });

/** Where the application stands: its line of the standing. */
export const line = (app: string) =>
  queryOptions({
    queryKey: ['standing', 'of', app],
    queryFn: () => unwrap(client.GET('/api/v1/standing', { params: { query: { find: app, limit: 500 } } })),
    select: (s) => s.lines.find((l) => l.application === app),
  });

/** What needs somebody at a site; its host is asked, so it may fail. */
export const needs = (app: string, at: string) => {
  const [stage = '', site = ''] = at.split('/');
  return queryOptions({
    queryKey: ['needs', app, at],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/sites/{stage}/{site}/needs', {
          params: { path: { stage, site }, query: { application: app } },
        }),
      ),
    retry: false,
  });
};

/** A page at a time; an earlier one stays on the screen while the next is read. */
export const components = (application: string, number: string, find: string) =>
  infiniteQueryOptions({
    queryKey: ['versions', application, 'components', { number, find }],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      unwrap(
        client.GET('/api/v1/versions/{application}/{number}/components', {
          params: { path: { application, number }, query: { cursor: pageParam, find: find || undefined } },
        }),
      ),
    getNextPageParam: (last) => last.next ?? undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });

const between = (application: string, from: string, to: string) => ({ application, from, to });

export const compared = (app: string, from: string, to: string) =>
  queryOptions({
    queryKey: ['versions', app, 'compared', { from, to }],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/versions/{application}/{from}/compare/{to}', { params: { path: between(app, from, to) } }),
      ),
    staleTime: Infinity,
  });

export const comparedRows = (app: string, from: string, to: string, component: string, at: number, find: string) =>
  queryOptions({
    queryKey: ['versions', app, 'rows', { from, to, component, at, find }] as readonly unknown[],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/versions/{application}/{from}/compare/{to}/rows', {
          params: { path: between(app, from, to), query: { component, cursor: String(at), find: find || undefined } },
        }),
      ),
    staleTime: Infinity,
  });
