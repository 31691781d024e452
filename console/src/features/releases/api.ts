import { queryOptions } from '@tanstack/react-query';
import { asSeen, client, unwrap, type Schemas } from '../../shared/data/api';
import { pages } from '../../shared/data/lists';

export { applications, paths, stages, versions } from '../../shared/data/lists';

export type Release = Schemas['ReleaseView'];
export type Case = Schemas['ReleaseCase'];

export const releases = (limit: number) =>
  pages(
    ['releases', 'list', limit],
    (cursor) => unwrap(client.GET('/api/v1/releases', { params: { query: { cursor, limit } } })),
    15_000,
  );

/** One release; asked again every second while something of it is being compared or runs. */
export const release = (key: string) =>
  queryOptions({
    queryKey: ['releases', key],
    queryFn: () => unwrap(client.GET('/api/v1/releases/{key}', { params: { path: { key } } })),
    refetchInterval: (q) =>
      q.state.data?.cases.some((c) => c.state === 'running' || c.members.some((m) => m.state === 'preparing'))
        ? 1000
        : 15_000,
  });

/**
 * @param revision that was looked at; 0 for one that is new
 */
export const save = (key: string, title: string, members: string[], revision: number) =>
  unwrap(
    client.PUT('/api/v1/releases/{key}', {
      params: { path: { key } },
      body: { title, members },
      ...asSeen(revision),
    }),
  );
export const prepare = (key: string, site: string, path?: string) =>
  unwrap(client.POST('/api/v1/releases/{key}/prepare', { params: { path: { key } }, body: { site, path } }));
