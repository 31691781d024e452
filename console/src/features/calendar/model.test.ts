import { expect, test } from 'vitest';
import type { Calendar } from './api';
import { days, entries, monday, place } from './model';

test('a week begins on its Monday, on a Sunday too', () => {
  expect(monday(new Date(2026, 10, 29, 18)).getDate()).toBe(23);
  expect(monday(new Date(2026, 10, 30)).getDate()).toBe(30);
  expect(days(new Date(2026, 11, 30), 3)).toEqual(new Date(2027, 0, 2));
});

test('what reaches out of the week ends at its edge', () => {
  const from = new Date('2026-11-23T00:00:00Z');
  const until = new Date('2026-11-30T00:00:00Z');
  expect(place('2026-11-26T12:00:00Z', from, until)).toBeCloseTo(0.5);
  expect(place('2026-11-01T00:00:00Z', from, until)).toBe(0);
  expect(place('2027-01-01T00:00:00Z', from, until)).toBe(1);
});

test('everything is listed in order, with where it leads', () => {
  const c: Calendar = {
    stages: [
      {
        stage: 'production',
        name: 'Production',
        zone: 'Europe/Oslo',
        production: true,
        rules: ['tue 22:00 to 04:00'],
        windows: [{ from: '2026-11-24T21:00:00Z', until: '2026-11-25T03:00:00Z', note: 'the clocks change' }],
        freezes: [
          {
            number: 'FZ-1',
            stage: 'production',
            from: '2026-11-26T00:00:00Z',
            until: '2026-11-27T00:00:00Z',
            reason: 'Race day',
            except: [],
            by: 'ines',
            over: false,
          },
        ],
      },
    ],
    schedules: [
      {
        number: 'SC-1',
        promotion: 'P-7',
        application: 'fares',
        version: '2.4.0',
        site: 'production/north',
        at: '2026-11-24T22:00:00Z',
        by: 'ines',
        state: 'refused',
        sentence: 'Something moved',
        mayWithdraw: false,
      },
    ],
    repeats: [{ number: 'RP-2', application: 'fares', stage: 'test', at: '2026-12-15T02:30:00Z' }],
    clashes: [],
    runs: [
      {
        number: 'R-3',
        application: 'fares',
        version: '2.3.0',
        site: 'test/main',
        began: '2026-11-23T10:00:00Z',
        state: 'done',
      },
    ],
  };
  const words = {
    window: (until: string, zone: string, note?: string | null) => `until ${until} ${zone} ${note}`,
    open: 'opens',
    frozen: (until: string, reason: string) => `frozen until ${until}: ${reason}`,
    lifted: () => '',
    again: (a: string) => `${a} again`,
    scheduled: (p: string, what: string, state: string) => `${p} ${what} ${state}`,
    time: (at: string) => at,
  };
  expect(entries(c, words).map((e) => [e.what, e.text, e.to])).toEqual([
    ['R-3', 'fares 2.3.0: done', '/runs/R-3'],
    ['opens', 'until 2026-11-25T03:00:00Z Europe/Oslo the clocks change', undefined],
    ['SC-1', 'P-7 fares 2.4.0 refused. Something moved', '/promotions/P-7'],
    ['FZ-1', 'frozen until 2026-11-27T00:00:00Z: Race day', undefined],
    ['RP-2', 'fares again', undefined],
  ]);
});
