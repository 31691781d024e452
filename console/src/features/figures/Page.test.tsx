// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import FiguresPage, { span } from './Page';

const row = (name: string, more: object = {}) => ({
  name,
  runs: 4,
  cameThrough: 2,
  toLookAt: 1,
  stopped: 1,
  putBack: 0,
  halfWritten: 0,
  wentBack: 1,
  usersOutSeconds: 75,
  tookMedianSeconds: 30,
  ...more,
});
const figures = {
  from: '2027-01-01T00:00:00Z',
  until: '2027-04-01T00:00:00Z',
  whole: row('all', { sealingMedianSeconds: 172_800 }),
  byStage: [row('production')],
  byApplication: [row('fares')],
  byMonth: [row('2027-03')],
  backs: [
    { run: 'R-7', application: 'fares', site: 'production/north', at: '2027-03-01T08:00:00Z', why: 'Undercharges' },
  ],
};
const server = { 'GET /api/v1/applications': [{ key: 'fares', name: 'Fares' }] };

test('what came through and what went back is said first, and a table says what each picture shows', async () => {
  show(<FiguresPage />, { ...server, 'GET /api/v1/figures': figures });

  expect(await screen.findByText('4 runs: 2 came through, 1 went back')).toBeTruthy();
  expect(screen.getByText(/1 stopped with nothing changed, 0 put back/)).toBeTruthy();
  const table = screen.getByRole('table', { name: 'By month' });
  expect(within(table).getByText('2027-03')).toBeTruthy();
  expect(screen.getByText('R-7').closest('a')!.getAttribute('href')).toBe('/runs/R-7');
  expect(screen.getAllByText('not known').length).toBe(2);
});

test('without a run nothing is drawn', async () => {
  show(<FiguresPage />, { ...server, 'GET /api/v1/figures': { ...figures, whole: row('all', { runs: 0 }) } });
  expect(await screen.findByText('Nothing ran in this time.')).toBeTruthy();
  expect(screen.queryByRole('table')).toBeNull();
});

test('a span ends with the day and is as long as it says', () => {
  expect(span(30, new Date('2027-03-10T22:00:00Z'))).toEqual({
    from: '2027-02-09T00:00:00.000Z',
    until: '2027-03-11T00:00:00.000Z',
  });
});
