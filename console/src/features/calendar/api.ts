import { queryOptions } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';

export type Calendar = Schemas['CalendarView'];
export type Freeze = Schemas['FreezeView'];
export type NewFreeze = Schemas['NewFreeze'];

export const calendar = (from: string, until: string) =>
  queryOptions({
    queryKey: ['calendar', from, until],
    queryFn: () => unwrap(client.GET('/api/v1/calendar', { params: { query: { from, until } } })),
    refetchInterval: 30_000,
  });

export const freezes = () =>
  queryOptions({
    queryKey: ['calendar', 'freezes'],
    queryFn: () => unwrap(client.GET('/api/v1/freezes')),
  });

export const holds = (asked: NewFreeze) => unwrap(client.POST('/api/v1/freezes/holds', { body: asked }));
export const freeze = (asked: NewFreeze) => unwrap(client.POST('/api/v1/freezes', { body: asked }));
export const lift = (v: { number: string; reason: string }) =>
  unwrap(
    client.POST('/api/v1/freezes/{number}/lift', {
      params: { path: { number: v.number } },
      body: { reason: v.reason },
    }),
  );

export const repeats = () =>
  queryOptions({
    queryKey: ['calendar', 'repeats'],
    queryFn: () => unwrap(client.GET('/api/v1/repeats')),
    refetchInterval: 30_000,
  });

export const newRepeat = (asked: Schemas['NewRepeat']) => unwrap(client.POST('/api/v1/repeats', { body: asked }));
export const endRepeat = (number: string) =>
  unwrap(client.POST('/api/v1/repeats/{number}/end', { params: { path: { number } } }));

export const errands = () =>
  queryOptions({
    queryKey: ['calendar', 'errands'],
    queryFn: () => unwrap(client.GET('/api/v1/errands')),
    refetchInterval: 10_000,
  });

export const stopErrand = (number: string) =>
  unwrap(client.POST('/api/v1/errands/{number}/stop', { params: { path: { number } } }));

export const makeFeed = (label: string) => unwrap(client.POST('/api/v1/calendar/feeds', { body: { label } }));
