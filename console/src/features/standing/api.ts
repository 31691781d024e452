import { infiniteQueryOptions, keepPreviousData } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';
import { pages } from '../../shared/data/lists';

/** What of the standing is asked for: part of a name, or a condition at a stage. */
export interface Wanted {
  find: string;
  stage: string;
  condition: string;
}

/** Lines of a page: more than a screen shows, so that scrolling does not wait for each. */
const LINES = 100;

export const standing = (wanted: Wanted) =>
  infiniteQueryOptions({
    queryKey: ['standing', 'now', wanted],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      unwrap(
        client.GET('/api/v1/standing', {
          params: {
            query: {
              find: wanted.find || undefined,
              stage: wanted.stage || undefined,
              condition: wanted.condition || undefined,
              cursor: pageParam,
              limit: LINES,
            },
          },
        }),
      ),
    getNextPageParam: (last) => last.next ?? undefined,
    placeholderData: keepPreviousData,
    refetchInterval: 15_000,
  });

export const waiting = () =>
  pages(
    ['standing', 'waiting'],
    (cursor) => unwrap(client.GET('/api/v1/waiting', { params: { query: { cursor } } })),
    15_000,
  );
