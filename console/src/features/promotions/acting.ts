import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { Promotion } from './api';

/** An act on a promotion: sent once, and the answer shown everywhere. */
export function useAct<V = void>(number: string, act: (value: V) => Promise<Promotion>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: (p) => {
      queries.setQueryData(['promotions', number], p);
      void queries.invalidateQueries({ queryKey: ['standing'] });
    },
    onError: () => void queries.invalidateQueries({ queryKey: ['promotions', number] }),
  });
}
