// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { Copies } from './Copies';

const MAY = { allowed: true, why: '', who: [] };
const copies = {
  every: 1,
  trouble: '',
  warning: 'The newest copy of its source is of 2027-03-01 and should be taken every day',
  copies: [
    {
      id: 'C-2',
      at: '2027-03-01T00:00:00Z',
      by: 'plenzo',
      site: 'development/main',
      bytes: 4_200,
      digest: 'abc',
      leftOut: ['table/fares.odd'],
    },
  ],
};
const server = { 'GET /api/v1/session/may': MAY, 'GET /api/v1/applications/fares/copies': copies };

test('copies are listed with what they are without, and one that is late is said', async () => {
  show(<Copies application="fares" />, server);

  expect(await screen.findByText('table/fares.odd')).toBeTruthy();
  expect(screen.getByText(/should be taken every day/)).toBeTruthy();
  expect(screen.getByText('Save C-2').closest('a')!.getAttribute('href')).toBe(
    '/api/v1/applications/fares/copies/C-2/file',
  );
});

test('how often is said in days, and one is taken on a word', async () => {
  const { sent, person } = show(<Copies application="fares" />, {
    ...server,
    'PUT /api/v1/applications/fares/copies': { ...copies, every: 7 },
    'POST /api/v1/applications/fares/copies': copies.copies[0],
  });
  const field = await screen.findByLabelText(/One every so many days/);
  await person.clear(field);
  await person.type(field, '7');
  await person.click(screen.getByRole('button', { name: 'Set it' }));
  await waitFor(() => expect(sent).toEqual([{ what: 'PUT /api/v1/applications/fares/copies', body: { every: 7 } }]));

  await person.click(screen.getByRole('button', { name: 'Take one now' }));
  await waitFor(() => expect(sent[1]?.what).toBe('POST /api/v1/applications/fares/copies'));
});
