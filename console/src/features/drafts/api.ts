import { queryOptions, useIsMutating, useMutation, useQueryClient } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';

export type Draft = Schemas['DraftView'];

export const draft = (id: string) =>
  queryOptions({
    queryKey: ['drafts', id],
    queryFn: () => unwrap(client.GET('/api/v1/drafts/{id}', { params: { path: { id } } })),
  });

/** The draft tried on copies, newest first. */
export const trials = (id: string) =>
  queryOptions({
    queryKey: ['drafts', id, 'trials'],
    queryFn: () => unwrap(client.GET('/api/v1/rehearsals', { params: { query: { draft: id } } })),
    refetchInterval: (q) => (q.state.data?.items.some((r) => !r.ended) ? 700 : 15_000),
  });

/** What is done to a draft from here, as long as it goes on. */
export const acting = (id: string) => ['drafts', id];

/** Whether something is done to it from here right now. */
export const useActing = (id: string) => useIsMutating({ mutationKey: acting(id) }) > 0;

/** Something done to a draft; what comes back is how it is now. What was refused is looked at again. */
export function useDraftAct<V = void>(id: string, act: (v: V) => Promise<Draft>) {
  const queries = useQueryClient();
  return useMutation({
    mutationKey: acting(id),
    mutationFn: act,
    onSuccess: (d) => queries.setQueryData(['drafts', id], d),
    onError: () => void queries.invalidateQueries({ queryKey: ['drafts', id] }),
  });
}
