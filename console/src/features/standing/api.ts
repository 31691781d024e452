import { queryOptions } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';

export const standing = () =>
  queryOptions({
    queryKey: ['standing', 'now'],
    queryFn: () => unwrap(client.GET('/api/v1/standing')),
    refetchInterval: 15_000,
  });
export const waiting = () =>
  queryOptions({
    queryKey: ['standing', 'waiting'],
    queryFn: () => unwrap(client.GET('/api/v1/waiting')),
    refetchInterval: 15_000,
  });
