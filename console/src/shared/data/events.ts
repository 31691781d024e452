import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

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

/** One event stream a tab; it resumes by itself. Returns whether it is connected. */
export function useEvents(): boolean {
  const queries = useQueryClient();
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    const source = new EventSource('/api/v1/events');
    source.onopen = () => {
      setConnected(true);
      void queries.invalidateQueries({ queryKey: ['runs'] });
    };
    source.onerror = () => setConnected(false);
    for (const name of ['run', 'log'])
      source.addEventListener(name, (e) => apply(queries, name, (e as MessageEvent<string>).data));
    return () => source.close();
  }, [queries]);
  return connected;
}
