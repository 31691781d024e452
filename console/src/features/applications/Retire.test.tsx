// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { yes } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import { Retire } from './Retire';

const app = { key: 'boarding', name: 'Boarding', revision: 3 } as Schemas['ApplicationView'];
const cost: Schemas['RetiringView'] = {
  open: [],
  holds: [{ site: 'production/north', version: '1.1.0' }],
  versions: 2,
};
const open = (answer = cost) =>
  show(<Retire app={app} />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/applications/boarding/retire': answer,
    'POST /api/v1/applications/boarding/retire': app,
  });

test('what stays and that it is final is said before, and its key is typed', async () => {
  const { sent, person } = open();

  await person.click(screen.getByText('Take it out of use'));
  expect(await screen.findByText(/This is final\./)).toBeTruthy();
  expect(screen.getByText('production/north keeps boarding 1.1.0')).toBeTruthy();
  const act = screen.getByRole('button', { name: 'Take Boarding out of use for good' });
  await person.type(screen.getByLabelText('Why is it taken out of use?'), 'Replaced by gates');
  await person.click(act);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Type boarding to take it out of use'), 'boarding');
  await person.click(act);

  await waitFor(() => expect(sent[0]?.body).toEqual({ reason: 'Replaced by gates', confirm: 'boarding' }));
});

test('what is open is named, and nothing can be done before it is over', async () => {
  const { sent, person } = open({ ...cost, open: ['P-7', 'D-2'] });

  await person.click(screen.getByText('Take it out of use'));

  expect(await screen.findByText('End or withdraw first: P-7, D-2.')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Take Boarding out of use for good' }));
  expect(sent).toEqual([]);
});

test('one that is out of use already offers nothing', () => {
  show(<Retire app={{ ...app, retired: { by: 'admin', at: '2027-03-01T08:00:00Z', reason: 'x' } }} />);

  expect(screen.queryByText('Take it out of use')).toBeNull();
});
