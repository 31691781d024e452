/** What a stream tells: it came up, it was lost, or an event with its data. */
export type Told = { name: 'up' | 'lost' | 'run' | 'log'; data: string };

const NAME = 'plenzo-events';

/** How long until a stream that was refused is asked for again (a stream that was left counts for 20 s). */
const AGAIN = 5000;

/** A stream that breaks off comes again by the browser; one that was refused does not, and is asked for anew. */
function open(tell: (told: Told) => void): () => void {
  let source: EventSource;
  let again: ReturnType<typeof setTimeout> | undefined;
  const connect = () => {
    source = new EventSource('/api/v1/events');
    source.onopen = () => tell({ name: 'up', data: '' });
    source.onerror = () => {
      tell({ name: 'lost', data: '' });
      if (source.readyState === EventSource.CLOSED) again = setTimeout(connect, AGAIN);
    };
    for (const name of ['run', 'log'] as const)
      source.addEventListener(name, (e) => tell({ name, data: (e as MessageEvent<string>).data }));
  };
  connect();
  return () => {
    clearTimeout(again);
    source.close();
  };
}

/**
 * One stream a browser: the page that holds the lock reads it and tells the others; when it goes, the next one
 * reads. Where a browser has no locks (an address that is not secure), each page has its own. Returns how to stop.
 */
export function listen(tell: (told: Told) => void): () => void {
  if (!('locks' in navigator)) return open(tell);
  const others = new BroadcastChannel(NAME);
  others.onmessage = (e: MessageEvent<Told>) => tell(e.data);
  const end = new AbortController();
  void navigator.locks
    .request(NAME, { signal: end.signal }, () => {
      const close = open((told) => {
        tell(told);
        others.postMessage(told);
      });
      return new Promise<void>((gone) =>
        end.signal.addEventListener('abort', () => {
          close();
          gone();
        }),
      );
    })
    .catch(() => undefined) // it stopped while it waited
    .finally(() => others.close());
  return () => end.abort();
}
