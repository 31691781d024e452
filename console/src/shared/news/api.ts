import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { asSeen, client, unwrap, type Schemas } from '../data/api';

export type Following = Schemas['FollowingView'];
export type Call = Schemas['CallView'];
export type Callee = Schemas['CalleeView'];

export const news = () =>
  infiniteQueryOptions({
    queryKey: ['news', 'list'],
    queryFn: ({ pageParam }) =>
      unwrap(client.GET('/api/v1/notices', { params: { query: { limit: 50, cursor: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next ?? undefined,
    refetchInterval: 30_000,
  });

export const seen = (entry: number) => unwrap(client.POST('/api/v1/notices/seen', { body: { entry } }));

export const following = () =>
  queryOptions({
    queryKey: ['news', 'following'],
    queryFn: () => unwrap(client.GET('/api/v1/notices/following')),
  });

export const follow = (asked: Following) => unwrap(client.PUT('/api/v1/notices/following', { body: asked }));
export const tryMail = () => unwrap(client.POST('/api/v1/notices/try'));

export const calls = () =>
  queryOptions({
    queryKey: ['news', 'calls'],
    queryFn: () => unwrap(client.GET('/api/v1/calls', { params: { query: {} } })),
    refetchInterval: 15_000,
  });

export const takeCall = (number: string) =>
  unwrap(client.POST('/api/v1/calls/{number}/take', { params: { path: { number } } }));
export const endCall = (number: string) =>
  unwrap(client.POST('/api/v1/calls/{number}/over', { params: { path: { number } } }));

export const order = (stage: string) =>
  queryOptions({
    queryKey: ['news', 'order', stage],
    queryFn: () => unwrap(client.GET('/api/v1/stages/{key}/calls', { params: { path: { key: stage } } })),
  });

export const sayOrder = (v: { stage: string; callees: Callee[]; revision: number }) =>
  unwrap(
    client.PUT('/api/v1/stages/{key}/calls', {
      params: { path: { key: v.stage } },
      body: { callees: v.callees, revision: v.revision },
      ...asSeen(v.revision),
    }),
  );
