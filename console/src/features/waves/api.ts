import { queryOptions } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { pages } from '../../shared/data/lists';

export { applications, paths, stages, versions } from '../../shared/data/lists';

export type Waves = Schemas['WavesView'];
export type Part = Schemas['PartView'];

export const waves = (limit: number) =>
  pages(
    ['waves', 'list', limit],
    (cursor) => unwrap(client.GET('/api/v1/waves', { params: { query: { cursor, limit } } })),
    15_000,
  );

/** One; asked again every second while something of it is being compared, runs or waits for its time. */
export const wave = (number: string) =>
  queryOptions({
    queryKey: ['waves', number],
    queryFn: () => unwrap(client.GET('/api/v1/waves/{number}', { params: { path: { number } } })),
    refetchInterval: (q) => {
      const w = q.state.data;
      const busy = w?.waves.some((wave) => wave.some((p) => p.state === 'preparing' || p.state === 'running'));
      return w && (w.state === 'running' || w.state === 'waiting' || busy) ? 1000 : 15_000;
    },
  });
