import { describe, expect, it } from 'vitest';
import { ago, counted, duration, plural } from './time';

describe('times', () => {
  const now = Date.parse('2026-06-03T20:00:00Z');
  it('is relative up to an hour and never says 0 s', () => {
    expect(ago('2026-06-03T19:59:58Z', now)).toBe('just now');
    expect(ago('2026-06-03T19:59:48Z', now)).toBe('12 s ago');
    expect(ago('2026-06-03T19:01:00Z', now)).toBe('59 min ago');
    expect(ago('2026-06-03T19:01:00Z', now + 7_200_000)).not.toContain('ago');
  });
  it('never says of what is to come that it is now', () => {
    expect(ago('2026-06-03T20:00:02Z', now)).toBe('just now');
    expect(ago('2026-06-03T20:00:30Z', now)).toBe('in 30 s');
    expect(ago('2026-06-03T20:20:00Z', now)).toBe('in 20 min');
    expect(ago('2026-09-01T08:00:00Z', now)).toContain('1 Sept');
  });
  it('shows tenths only where they matter', () => {
    expect(duration(3.44)).toBe('3.4 s');
    expect(duration(214)).toBe('3:34');
    expect(duration(-2)).toBe('0.0 s');
    expect(duration(-7200)).toBe('a time that is not known');
    expect(duration(4320)).toBe('1 h 12 min');
  });
  it('counts in words', () => {
    expect(plural(1, 'row', 'rows')).toBe('1 row');
    expect(plural(1204, 'row', 'rows')).toBe('1,204 rows');
    expect(counted({ file: 1, records: 2, rule: 3 })).toBe('1 file, 2 records components, 3 rules');
    expect(counted({})).toBe('no component');
  });
});
