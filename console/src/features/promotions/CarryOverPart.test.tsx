// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { promotion } from '../../shared/testing/samples';
import { CarryOverPart } from './CarryOverPart';

const line = (over: object) => ({
  table: 'fares.band',
  column: 'price',
  becomes: 'price',
  fate: 'carried',
  rows: 1200,
  filled: 7,
  reason: '',
  ...over,
});

test('what becomes of values is a line each, and what is lost is said first', async () => {
  show(<CarryOverPart p={promotion()} />, {
    'GET /api/v1/promotions/P-7/carry-over': {
      number: 'P-7',
      lines: [
        line({ column: 'amount', becomes: 'price', reason: 'under its new name' }),
        line({ column: 'old', becomes: '', fate: 'not carried', reason: 'the version removes it' }),
        line({ column: '', becomes: 'zone', fate: 'new', reason: 'empty' }),
      ],
    },
  });

  expect(await screen.findByText('amount → price')).toBeTruthy();
  expect(screen.getAllByText('7 of 1,200')).toHaveLength(2);
  expect(screen.getByText(/The values of one column are not carried/)).toBeTruthy();
  expect(screen.getByText('the version removes it')).toBeTruthy();
  expect(screen.getByRole('link', { name: /CSV/ }).getAttribute('href')).toBe('/api/v1/promotions/P-7/carry-over/csv');
});

test('where no structure changes there is nothing to say', async () => {
  const { asked } = show(<CarryOverPart p={promotion()} />, {
    'GET /api/v1/promotions/P-7/carry-over': { number: 'P-7', lines: [] },
  });

  await waitFor(() => expect(asked.length).toBe(1));
  expect(screen.queryByRole('table')).toBeNull();
});
