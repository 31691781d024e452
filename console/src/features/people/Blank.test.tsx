// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import { Blank } from './Blank';

const MAY = { allowed: true, why: '', who: [] };
const outlook = {
  names: ['edda', 'Edda Brandt'],
  inTheWay: [] as string[],
  keeps: ['What runs wrote into the targets'],
};

test('what goes and what keeps the name is read first, and it waits for a second person', async () => {
  const { sent, person } = show(<Blank login="edda" />, {
    'GET /api/v1/session/may': MAY,
    'GET /api/v1/people/edda/blanking': outlook,
    'POST /api/v1/people/edda/blank': new Refused(409, {
      code: 'SECOND_PERSON',
      detail: 'What guards production is changed by two: this waits as CH-3, and nothing is changed yet.',
      next: [],
    }),
  });
  await person.click(await screen.findByRole('button', { name: 'See what that would come to' }));
  expect(await screen.findByText('Edda Brandt')).toBeTruthy();
  expect(screen.getByText('What runs wrote into the targets')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Blank edda for good' }));
  expect(sent).toEqual([]);

  await person.type(screen.getByLabelText('Type edda to go on'), 'edda');
  await person.click(screen.getByRole('button', { name: 'Blank edda for good' }));
  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/people/edda/blank']));
  expect(await screen.findByText(/this waits as CH-3/)).toBeTruthy();
});

test('what is in the way is said, and nothing is sent', async () => {
  const { sent, person } = show(<Blank login="edda" />, {
    'GET /api/v1/session/may': MAY,
    'GET /api/v1/people/edda/blanking': { ...outlook, inTheWay: ['P-15 is open, and edda has part in it.'] },
  });
  await person.click(await screen.findByRole('button', { name: 'See what that would come to' }));
  await person.type(await screen.findByLabelText('Type edda to go on'), 'edda');
  await person.click(screen.getByRole('button', { name: 'Blank edda for good' }));

  expect(screen.getAllByText('P-15 is open, and edda has part in it.').length).toBeGreaterThan(0);
  expect(sent).toEqual([]);
});
