import type { Calendar } from './api';

export const DAY = 86_400_000;

/** Midnight of the Monday of the week, here. */
export function monday(of: Date): Date {
  const day = new Date(of.getFullYear(), of.getMonth(), of.getDate());
  day.setDate(day.getDate() - ((day.getDay() + 6) % 7));
  return day;
}

/** So many days later, at midnight, also where a day has 23 or 25 hours. */
export function days(of: Date, n: number): Date {
  return new Date(of.getFullYear(), of.getMonth(), of.getDate() + n);
}

/** Where a time lies in a week, from 0 to 1; what is before or after it is at its edge. */
export function place(at: string, from: Date, until: Date): number {
  const part = (Date.parse(at) - from.getTime()) / (until.getTime() - from.getTime());
  return Math.min(1, Math.max(0, part));
}

/** Something that is on. */
export interface Entry {
  at: string;
  stage: string;
  sort: 'window' | 'freeze' | 'schedule' | 'repeat' | 'run';
  what: string;
  text: string;
  to?: string;
}

/** All of it in order, as the table has it. */
export function entries(
  c: Calendar,
  words: {
    window: (until: string, zone: string, note?: string | null) => string;
    open: string;
    frozen: (until: string, reason: string) => string;
    lifted: (by: string, reason: string) => string;
    scheduled: (promotion: string, what: string, state: string) => string;
    again: (application: string) => string;
    time: (at: string) => string;
  },
): Entry[] {
  const out: Entry[] = [];
  for (const s of c.stages) {
    for (const w of s.windows)
      out.push({
        at: w.from,
        stage: s.name,
        sort: 'window',
        what: words.open,
        text: words.window(words.time(w.until), s.zone, w.note),
      });
    for (const f of s.freezes)
      out.push({
        at: f.from,
        stage: s.name,
        sort: 'freeze',
        what: f.number,
        text: f.liftedBy ? words.lifted(f.liftedBy, f.liftedReason ?? '') : words.frozen(words.time(f.until), f.reason),
      });
  }
  for (const s of c.schedules)
    out.push({
      at: s.at,
      stage: s.site,
      sort: 'schedule',
      what: s.number,
      text:
        words.scheduled(s.promotion, `${s.application} ${s.version}`, s.state) + (s.sentence ? `. ${s.sentence}` : ''),
      to: `/promotions/${s.promotion}`,
    });
  for (const r of c.repeats)
    out.push({ at: r.at, stage: r.stage, sort: 'repeat', what: r.number, text: words.again(r.application) });
  for (const r of c.runs)
    out.push({
      at: r.began,
      stage: r.site,
      sort: 'run',
      what: r.number,
      text: `${r.application} ${r.version}: ${r.state.replace(', n to', ', something to')}`,
      to: `/runs/${r.number}`,
    });
  return out.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
}
