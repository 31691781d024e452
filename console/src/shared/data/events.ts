import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { listen } from './stream';

/** What each event makes old. Logs are added to as they come. */
export function apply(queries: QueryClient, name: string, data: string) {
  const event = JSON.parse(data) as { run: string; promotion?: string; line?: string };
  if (name === 'log') {
    queries.setQueryData<{ lines: string[] }>(['runs', event.run, 'log'], (old) =>
      old ? { lines: [...old.lines, event.line ?? ''].slice(-5000) } : old,
    );
    return;
  }
  void queries.invalidateQueries({ queryKey: ['runs'], predicate: (q) => q.queryKey[2] !== 'log' });
  void queries.invalidateQueries({ queryKey: ['standing'] });
  if (event.promotion) void queries.invalidateQueries({ queryKey: ['promotions'] });
}

/** Keeps what is shown as new as the events say. Returns whether they come. */
export function useEvents(): boolean {
  const queries = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(
    () =>
      listen(({ name, data }) => {
        setConnected(name !== 'lost');
        if (name === 'up') void queries.invalidateQueries({ queryKey: ['runs'] });
        else if (name !== 'lost') apply(queries, name, data);
      }),
    [queries],
  );
  return connected;
}
