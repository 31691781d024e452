import { expect, it } from 'vitest';
import { segments } from './model';

it('gives a longer stay a wider place, and lets a short one be seen', () => {
  const at = (hour: number) => new Date(Date.UTC(2027, 0, 1, hour)).toISOString();
  const [long, short, present] = segments(
    [
      { version: '2.3.0', how: 'adopted', at: at(0), by: 'ines' },
      { version: '2.4.0', how: 'run', run: 'R-3', at: at(20), by: 'ines' },
      { version: '2.3.0', how: 'rollback', run: 'R-4', at: at(20), by: 'ines' },
    ],
    new Date(Date.UTC(2027, 0, 1, 21)),
  );

  expect(long!.share).toBeGreaterThan(present!.share);
  expect(short!.share).toBe(1);
  expect(present!.words).toBe('rolled back to');
});
