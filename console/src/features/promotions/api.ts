import { queryOptions } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';

export type Promotion = Schemas['PromotionView'];

export const promotions = () =>
  queryOptions({
    queryKey: ['promotions', 'list'],
    queryFn: () => unwrap(client.GET('/api/v1/promotions', { params: { query: {} } })),
  });

export const promotion = (number: string) =>
  queryOptions({
    queryKey: ['promotions', number],
    queryFn: () => unwrap(client.GET('/api/v1/promotions/{number}', { params: { path: { number } } })),
    refetchInterval: (q) => (q.state.data?.state === 'preparing' || q.state.data?.state === 'running' ? 700 : 15_000),
  });

export const rows = (
  number: string,
  component: number,
  difference: string,
  from: number,
  find: string,
  comparedAt: string,
) =>
  queryOptions({
    queryKey: ['promotions', number, 'rows', { component, difference, from, find, comparedAt }] as readonly unknown[],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/promotions/{number}/rows', {
          params: { path: { number }, query: { component, difference, cursor: String(from), find: find || undefined } },
        }),
      ),
    staleTime: Infinity,
  });

export const versions = (application: string) =>
  queryOptions({
    queryKey: ['versions', application],
    queryFn: () => unwrap(client.GET('/api/v1/versions', { params: { query: { application } } })),
  });
export const applications = () =>
  queryOptions({ queryKey: ['applications'], queryFn: () => unwrap(client.GET('/api/v1/applications')) });
export const stages = () => queryOptions({ queryKey: ['stages'], queryFn: () => unwrap(client.GET('/api/v1/stages')) });
