// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { Guards } from './Guards';

const change = (more: object = {}) => ({
  number: 'CH-4',
  what: 'the path ordinary',
  words: 'production asks no more: 2 approvals',
  by: 'admin',
  second: 'bram',
  at: '2027-03-01T08:00:00Z',
  state: 'agreed',
  ...more,
});

test('a change that waits, one by two and one by one are told apart', () => {
  show(
    <Guards
      of={[
        change(),
        change({ number: 'CH-5', state: 'alone', second: null }),
        change({ number: 'CH-6', state: 'open', second: null }),
      ]}
    />,
    {},
  );

  const said = screen.getAllByRole('listitem').map((x) => x.textContent);
  expect(said[0]).toMatch(/^Changed: the path ordinary by admin, agreed by bram,/);
  expect(said[1]).toContain('nobody else administered');
  expect(said[2]).toMatch(/^Waits for a second person: the path ordinary by admin,/);
  expect(said[2]).toContain('CH-6');
});

test('nothing is said where nothing was changed', () => {
  show(<Guards of={[]} />, {});

  expect(screen.queryByRole('alert')).toBeNull();
});
