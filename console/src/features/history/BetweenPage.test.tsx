// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import BetweenPage, { span } from './BetweenPage';

const report = {
  title: 'fares at production/north',
  made: '2027-03-10T00:00:00Z',
  sections: [
    {
      heading: 'What was recorded there',
      text: '',
      facts: [{ name: 'At the beginning', value: '2.3.0, adopted' }],
      heads: [],
      rows: [],
    },
    {
      heading: 'How the two versions differ: 2.3.0 and 2.4.0',
      text: '',
      facts: [],
      heads: ['component', 'difference'],
      rows: [['records/fares.fare_band', 'changed']],
    },
    { heading: 'Verdicts', text: 'None.', facts: [], heads: [], rows: [] },
  ],
};

const page = (at: string) =>
  show(
    <Routes>
      <Route path="/history/:application/:stage/:site" element={<BetweenPage />} />
    </Routes>,
    { 'GET /api/v1/records/fares/production/north/between': report },
    at,
  );

test('what changed between two days stands section by section, and is saved as a file', async () => {
  const { asked } = page('/history/fares/production/north?from=2027-03-01&until=2027-03-09');

  const table = await screen.findByRole('table', { name: /How the two versions differ/ });
  expect(within(table).getByText('records/fares.fare_band')).toBeTruthy();
  expect(screen.getByText('None.')).toBeTruthy();
  expect(screen.getByText('Save as HTML').closest('a')!.getAttribute('href')).toMatch(/between\/html\?from=2027-/);
  expect(asked.some((a) => a.includes('until='))).toBe(true);
});

test('nothing is asked until both days are there in their order', async () => {
  const { asked } = page('/history/fares/production/north?from=2027-03-09&until=2027-03-01');

  expect(await screen.findByText('Choose the first and the last day.')).toBeTruthy();
  expect(asked.filter((a) => a.includes('/between'))).toEqual([]);
});

test('a day goes on to its end', () => {
  const s = span('2027-03-01', '2027-03-01');
  expect(new Date(s.until).getTime() - new Date(s.from).getTime()).toBe(86_399_999);
});
