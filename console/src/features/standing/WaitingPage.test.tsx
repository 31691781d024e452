// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import WaitingPage from './WaitingPage';

const item = (what: string, link: string, application: string, version: string, site: string) => ({
  what,
  link,
  application,
  version,
  site,
  sentence: '',
  since: '2027-03-02T22:00:00Z',
});

test('each link says where it leads, also where several ask for the same', async () => {
  show(<WaitingPage />, {
    'GET /api/v1/waiting': {
      items: [
        item('approve', 'P-15', 'fares', '2.6.1', 'production/north'),
        item('judge', 'R-23', 'fares', '2.6.1', 'production/north'),
        item('judge', 'R-13', 'boarding', '1.1.0', 'test/main'),
        item('settle what differs', 'drift', 'fares', '2.7.0', 'test/main'),
        item('settle what differs', 'drift', 'sailings', '1.8.0', 'production/south'),
      ],
    },
    'GET /api/v1/calls': [],
    'GET /api/v1/underway': [],
  });

  await screen.findByRole('link', { name: 'Approve P-15' });

  const links = screen
    .getAllByRole('link')
    .map((l) => [l.getAttribute('aria-label') ?? l.textContent, l.getAttribute('href')]);
  expect(links).toEqual([
    ['Approve P-15', '/promotions/P-15'],
    ['Judge R-23', '/runs/R-23'],
    ['Judge R-13', '/runs/R-13'],
    ['Settle what differs: fares 2.7.0, test/main', '/drift/fares/test/main'],
    ['Settle what differs: sailings 1.8.0, production/south', '/drift/sailings/production/south'],
  ]);
});
