import { QueryClient } from '@tanstack/react-query';
import { ApiError } from './api';

/** Retried only when there was no answer or the server was busy; production actions never (see acting). */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => count < 2 && error instanceof ApiError && [0, 429, 502, 503, 504].includes(error.status),
    },
    mutations: acting(),
  },
});

/**
 * How everything is sent that changes something: now or not at all. A held mutation would be sent minutes
 * later, when the network is back and nobody looks.
 */
export function acting() {
  return { networkMode: 'always' as const, retry: 0 };
}
