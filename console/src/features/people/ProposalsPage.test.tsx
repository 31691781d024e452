// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import ProposalsPage from './ProposalsPage';

const may = (allowed: boolean, why = '') => ({ allowed, code: allowed ? null : 'own', why, who: ['bram'] });

const change = (more: object = {}) => ({
  number: 'CH-4',
  what: 'the path ordinary',
  words: 'production asks no more: 2 approvals',
  stages: ['production'],
  by: 'admin',
  at: '2027-03-01T08:00:00Z',
  state: 'open',
  second: null,
  decidedAt: null,
  note: '',
  seconds: ['bram'],
  mayDecide: may(true),
  mayWithdraw: false,
  ...more,
});

const answers = (...items: object[]) => ({ 'GET /api/v1/proposals': { items, next: null } });

test('what waits is read with what it changes, and agreed to with a note', async () => {
  const { sent, person } = show(<ProposalsPage />, {
    ...answers(change()),
    'POST /api/v1/proposals/CH-4/agree': change({ state: 'agreed' }),
  });

  expect(await screen.findByText('production asks no more: 2 approvals')).toBeTruthy();
  await person.type(screen.getByLabelText('What you say to it'), 'as talked about');
  await person.click(screen.getByRole('button', { name: 'Agree, which makes CH-4' }));

  await waitFor(() =>
    expect(sent).toMatchObject([{ what: 'POST /api/v1/proposals/CH-4/agree', body: { note: 'as talked about' } }]),
  );
});

test('it is declined with a reason alone', async () => {
  const { sent, person } = show(<ProposalsPage />, {
    ...answers(change()),
    'POST /api/v1/proposals/CH-4/decline': change({ state: 'declined' }),
  });
  const decline = await screen.findByRole('button', { name: 'Decline' });

  await person.click(decline);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('What you say to it'), 'not before the audit');
  await person.click(decline);

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/proposals/CH-4/decline']));
});

test('who asked for it reads whom to ask, and takes it back', async () => {
  const { sent, person } = show(<ProposalsPage />, {
    ...answers(change({ mayDecide: may(false, 'Who asked for CH-4 is not its second person.'), mayWithdraw: true })),
    'POST /api/v1/proposals/CH-4/withdraw': change({ state: 'withdrawn' }),
  });

  expect(await screen.findByText(/Nothing is changed yet. Ask bram/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /Agree/ })).toBeNull();
  await person.click(screen.getByRole('button', { name: 'Take CH-4 back' }));

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/proposals/CH-4/withdraw']));
});

test('what is decided stands apart, with both', async () => {
  show(
    <ProposalsPage />,
    answers(
      change({ number: 'CH-3', state: 'agreed', second: 'ines', decidedAt: '2027-03-02T08:00:00Z', note: 'yes' }),
      change({ number: 'CH-2', state: 'alone', decidedAt: '2027-03-01T08:00:00Z' }),
    ),
  );

  expect(await screen.findByText('Nothing waits for a second person.')).toBeTruthy();
  const two = within(screen.getByRole('article', { name: 'CH-3' }));
  expect(two.getByText(/agreed by ines/)).toBeTruthy();
  expect(two.getByText(/made by two/i)).toBeTruthy();
  expect(within(screen.getByRole('article', { name: 'CH-2' })).getByText(/nobody else administered/)).toBeTruthy();
});
