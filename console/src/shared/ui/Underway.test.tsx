// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../testing/page';
import { AtWork, far, toShow, Underway, workLink, type Work } from './Underway';

const work = (changed: Partial<Work> = {}): Work => ({
  number: 4,
  by: 'ines',
  act: 'check',
  about: 'draft/D-3',
  began: new Date().toISOString(),
  done: 12,
  of: 40,
  unit: 'components',
  at: 'records/fares.booking, 120,000 rows',
  secondsLeft: 12,
  ended: undefined,
  outcome: '',
  ...changed,
});

test('says how far, at what, and how long yet', () => {
  expect(far(work())).toBe('12 of 40 components, at records/fares.booking, 120,000 rows; about 0:12 to go');
  expect(far(work({ of: 0, at: '', secondsLeft: undefined }))).toBe('It has begun');
  expect(far(work({ of: 0, secondsLeft: undefined, at: 'reading' }))).toBe('at reading');
});

test('what somebody began elsewhere is found, and asked for again until it has ended', async () => {
  const answers: Record<string, unknown> = { 'GET /api/v1/underway': [work(), work({ number: 3, ended: 'x' })] };
  const { asked } = show(<Underway about="draft/D-3" />, answers);

  expect(await screen.findByText(/^Checking, begun by ines/)).toBeDefined();
  expect(screen.getByText(/It goes on when you leave this page/)).toBeDefined();
  expect(screen.getAllByRole('progressbar')).toHaveLength(1);
  expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('30');
  expect(asked[0]).toContain('about=draft%2FD-3');

  answers['GET /api/v1/underway'] = [work({ ended: 'x' })];
  await waitFor(() => expect(screen.queryByRole('progressbar')).toBeNull(), { timeout: 5000 });
});

test('nothing at work shows nothing and is not asked for again', async () => {
  const { asked } = show(<Underway about="draft/D-3" />, { 'GET /api/v1/underway': [] });

  await waitFor(() => expect(asked).toHaveLength(1));
  expect(screen.queryByText(/begun by/)).toBeNull();
});

test('all that takes its time is listed with the way to it, and why it ended otherwise', async () => {
  show(<AtWork />, {
    'GET /api/v1/session': { login: 'ines', name: 'Ines', grants: [] },
    'GET /api/v1/underway': [
      work(),
      work({ number: 3, act: 'compare', about: 'promotion/P-7', ended: 'x', outcome: 'The site does not answer.' }),
      work({ number: 2, act: 'build', about: 'version/fares@2.6.1', ended: 'x' }),
    ],
  });

  await waitFor(() => expect(screen.getAllByRole('listitem')).toHaveLength(3));
  const items = screen.getAllByRole('listitem').map((li) => li.textContent);
  expect(items[0]).toMatch(/^Checking D-3, begun by ines .*: 12 of 40 components/);
  expect(items[1]).toMatch(/^Comparing P-7, .*: The site does not answer\.$/);
  expect(items[2]).toMatch(/^Building the package of fares@2\.6\.1, .*: done$/);
  expect(screen.getAllByRole('link').map((a) => a.getAttribute('href'))).toEqual([
    '/drafts/D-3',
    '/promotions/P-7',
    '/versions/fares/2.6.1',
  ]);
});

test('each sort of work has its page, and one that is not known has none', () => {
  expect(workLink('application/fares')).toBe('/applications/fares/adopt');
  expect(workLink('rollback/fares@production/north')).toBe('/rollback/fares/production/north');
  expect(workLink('packages')).toBe('/packages');
  expect(workLink('package/K-1')).toBe('/packages');
  expect(workLink('ferry/1')).toBeUndefined();
});

test('of what ended only what one began oneself is shown, and not all that went well', () => {
  const ended = (number: number, more: Partial<Work> = {}) => work({ number, ended: 'x', ...more });

  const shown = toShow(
    [
      work({ number: 9, by: 'bram' }),
      ended(8),
      ended(7, { by: 'bram', outcome: 'The site does not answer.' }),
      ended(6),
      ended(5),
      ended(4),
      ended(3, { outcome: 'The site does not answer.' }),
    ],
    'ines',
  );

  expect(shown.map((w) => w.number)).toEqual([9, 3, 8, 6, 5]);
});
