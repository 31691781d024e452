// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import NightPage from './NightPage';

const night = {
  run: 'R-9',
  state: 'half written',
  sentence: 'production/north is half written: host keeps 2.4.0.',
  users: 'Users are kept out since 2027-03-01T02:10:00Z',
  targets: [
    { target: 'host at production/north', holds: 'new', words: 'new: 2.4.0' },
    { target: 'database at production/north', holds: 'unknown', words: 'unknown: it has not said yet' },
  ],
  on: 'Prepare the promotion again to finish it, or go back.',
  ways: [
    { way: 'earlier-version', possible: true, words: 'to 2.3.0: loses nothing that was counted' },
    { way: 'backup', possible: false, words: 'cannot be used: it was damaged' },
  ],
  noWays: '',
  hands: [{ login: 'bram', name: 'Bram Ostrander', how: '+47 555 0142' }],
  called: ['CL-3 open: Half written; bram by mail to bram@morrowick.example'],
  text: 'R-9 fares …',
};

test('users, targets, ways and hands stand in that order', async () => {
  show(<NightPage />, { 'GET /api/v1/runs/R-9/night': night }, '/runs/R-9/night', '/runs/:number/night');

  expect(await screen.findByText(/Users are kept out/)).toBeTruthy();
  expect(screen.getAllByRole('heading').map((h) => h.textContent)).toEqual([
    'R-9: what is so, and who can act',
    'Users',
    'What each target holds',
    'Ways on and back',
    'Who may act, and how they are reached',
    'Who was called',
  ]);
  expect(screen.getByText('unknown: it has not said yet')).toBeTruthy();
  expect(screen.getByText(/cannot be used: it was damaged/)).toBeTruthy();
  expect(screen.getByText(/\+47 555 0142/)).toBeTruthy();
});
