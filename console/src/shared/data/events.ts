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
  void refresh(queries, 'runs');
  void refresh(queries, 'standing');
  if (event.promotion) void refresh(queries, 'promotions');
}

/** What is being read anew, and whether something happened meanwhile. */
const going = new WeakMap<QueryClient, Map<string, boolean>>();

/**
 * Reads anew what is old, and once more when something happened meanwhile. A reading under way is let come in: where
 * events follow one another faster than answers, nothing would be shown before the last of them.
 */
async function refresh(queries: QueryClient, what: string) {
  const mine = going.get(queries) ?? new Map<string, boolean>();
  going.set(queries, mine);
  if (mine.has(what)) {
    mine.set(what, true);
    return;
  }
  do {
    mine.set(what, false);
    await queries.invalidateQueries({ queryKey: [what], predicate: (q) => q.queryKey[2] !== 'log' });
  } while (mine.get(what));
  mine.delete(what);
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
