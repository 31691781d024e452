/** Times as people read them. Relative up to an hour back or to come, then clock, then date. */
export function ago(at: string, now: number = Date.now()): string {
  const then = Date.parse(at);
  const seconds = Math.round((now - then) / 1000);
  if (seconds <= -60 && seconds > -3600) return `in ${Math.round(-seconds / 60)} min`;
  if (seconds < 0 && seconds > -60) return seconds > -5 ? 'just now' : `in ${-seconds} s`;
  if (seconds >= 0 && seconds < 5) return 'just now';
  if (seconds >= 0 && seconds < 60) return `${seconds} s ago`;
  if (seconds >= 0 && seconds < 3600) return `${Math.round(seconds / 60)} min ago`;
  const d = new Date(then);
  const today = new Date(now).toDateString() === d.toDateString();
  const clock = d.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  return today
    ? clock
    : `${d.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: d.getFullYear() === new Date(now).getFullYear() ? undefined : 'numeric' })} ${clock}`;
}

/** The full time with its zone. */
export function full(at: string): string {
  return new Date(at).toLocaleString('en-GB', { dateStyle: 'full', timeStyle: 'long' });
}

/** 3:34, over an hour 1 h 12 min, over two days 3 days 4 h; under ten seconds with a tenth. */
export function duration(seconds: number): string {
  // a browser's clock may be a little behind; what is further back was measured over a clock that was set
  if (seconds < -60) return 'a time that is not known';
  if (seconds < 10) return `${Math.max(0, seconds).toFixed(1)} s`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
  if (seconds >= 172_800) return `${Math.floor(seconds / 86_400)} days ${Math.floor((seconds % 86_400) / 3600)} h`;
  return `${Math.floor(seconds / 3600)} h ${Math.floor((seconds % 3600) / 60)} min`;
}

export function between(from?: string | null, to?: string | null): number {
  return from ? ((to ? Date.parse(to) : Date.now()) - Date.parse(from)) / 1000 : 0;
}

export function plural(n: number, one: string, many: string): string {
  return `${n.toLocaleString('en-GB')} ${new Intl.PluralRules('en').select(n) === 'one' ? one : many}`;
}

/** How many components of each kind: "2 files, 1 records component". */
export function counted(kinds: Record<string, number>): string {
  const words = Object.entries(kinds).map(([kind, n]) => {
    const one = kind === 'records' ? 'records component' : kind;
    return plural(n, one, one === 'policy' ? 'policies' : `${one}s`);
  });
  return words.join(', ') || 'no component';
}

/** Bytes as people read them. */
export function size(bytes: number): string {
  const units = ['bytes', 'kB', 'MB', 'GB', 'TB'];
  const n = bytes < 1000 ? 0 : Math.min(units.length - 1, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** n;
  return `${n === 0 || value >= 100 ? Math.round(value).toLocaleString('en-GB') : value.toFixed(1)} ${units[n]}`;
}

/** "0:50 to 1:10": the shortest and the longest of earlier runs, which may be the same. */
export function span(of: { leastSeconds: number; mostSeconds: number }): string {
  const least = duration(of.leastSeconds);
  const most = duration(of.mostSeconds);
  return least === most ? `about ${most}` : `${least} to ${most}`;
}
