import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { listen, type Told } from './stream';

/** A browser with several pages: its streams, its locks and its channel. */
class Stream {
  static all: Stream[] = [];
  onopen?: () => void;
  onerror?: () => void;
  static readonly CLOSED = 2;
  readyState = 1;
  closed = false;
  private readonly takers = new Map<string, (e: { data: string }) => void>();
  constructor() {
    Stream.all.push(this);
  }
  addEventListener(name: string, take: (e: { data: string }) => void) {
    this.takers.set(name, take);
  }
  say(name: string, data: string) {
    this.takers.get(name)?.({ data });
  }
  close() {
    this.closed = true;
  }
  static open = () => Stream.all.filter((s) => !s.closed);
}

class Channel {
  static all: Channel[] = [];
  onmessage?: (e: { data: Told }) => void;
  constructor() {
    Channel.all.push(this);
  }
  postMessage(data: Told) {
    Channel.all.filter((c) => c !== this).forEach((c) => c.onmessage?.({ data }));
  }
  close() {
    Channel.all = Channel.all.filter((c) => c !== this);
  }
}

function locks() {
  let last: Promise<unknown> = Promise.resolve();
  return {
    request: (_: string, { signal }: { signal: AbortSignal }, work: () => Promise<void>) => {
      const mine = last.then(() => (signal.aborted ? Promise.reject(new Error('aborted')) : work()));
      last = mine.catch(() => undefined);
      return mine;
    },
  };
}

const settled = () => vi.waitFor(() => expect(Stream.open()).toHaveLength(1));

describe('the stream of events', () => {
  beforeEach(() => {
    Stream.all = [];
    Channel.all = [];
    vi.stubGlobal('EventSource', Stream);
    vi.stubGlobal('BroadcastChannel', Channel);
    vi.stubGlobal('navigator', { locks: locks() });
  });
  afterEach(() => vi.unstubAllGlobals());

  it('is asked for again when it was refused, which a browser does not do by itself', async () => {
    vi.useFakeTimers();
    const told: Told[] = [];
    const stop = listen((t) => told.push(t));
    await vi.advanceTimersByTimeAsync(0);
    const refused = Stream.all[0]!;
    refused.readyState = Stream.CLOSED;
    refused.onerror?.();
    expect(told.map((t) => t.name)).toEqual(['lost']);

    await vi.advanceTimersByTimeAsync(5000);
    expect(Stream.all).toHaveLength(2);
    Stream.all[1]?.onopen?.();
    expect(told.map((t) => t.name)).toEqual(['lost', 'up']);

    Stream.all[1]!.readyState = Stream.CLOSED;
    Stream.all[1]?.onerror?.();
    stop();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(Stream.all).toHaveLength(2);
    vi.useRealTimers();
  });

  it('is left to the browser when it only broke off', async () => {
    vi.useFakeTimers();
    listen(() => undefined);
    await vi.advanceTimersByTimeAsync(0);
    Stream.all[0]?.onerror?.();

    await vi.advanceTimersByTimeAsync(60_000);

    expect(Stream.all).toHaveLength(1);
    vi.useRealTimers();
  });

  it('is one for all pages of a browser, and each is told', async () => {
    const first: Told[] = [];
    const second: Told[] = [];
    listen((t) => first.push(t));
    listen((t) => second.push(t));
    await settled();
    Stream.all[0]?.onopen?.();
    Stream.all[0]?.say('run', '{"run":"R-1"}');
    expect(Stream.all).toHaveLength(1);
    expect(first).toEqual([
      { name: 'up', data: '' },
      { name: 'run', data: '{"run":"R-1"}' },
    ]);
    expect(second).toEqual(first);
  });

  it('is taken up by another page when the one that read it goes', async () => {
    const second: Told[] = [];
    const stop = listen(() => undefined);
    listen((t) => second.push(t));
    await settled();
    stop();
    await vi.waitFor(() => expect(Stream.all).toHaveLength(2));
    await settled();
    Stream.open()[0]?.say('log', '{"run":"R-1","line":"on"}');
    expect(second).toEqual([{ name: 'log', data: '{"run":"R-1","line":"on"}' }]);
  });

  it('is not opened by a page that went while it waited', async () => {
    const stop = listen(() => undefined);
    const gone = listen(() => undefined);
    await settled();
    gone();
    stop();
    await vi.waitFor(() => expect(Stream.open()).toHaveLength(0));
    expect(Stream.all).toHaveLength(1);
  });

  it('is one for each page where there are no locks', () => {
    vi.stubGlobal('navigator', {});
    const told: Told[] = [];
    const stop = listen((t) => told.push(t));
    Stream.all[0]?.onerror?.();
    expect(told).toEqual([{ name: 'lost', data: '' }]);
    stop();
    expect(Stream.open()).toHaveLength(0);
  });
});
