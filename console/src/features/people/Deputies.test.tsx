// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { Deputies } from './Deputies';

const deputy = (more: object = {}) => ({
  number: 'DP-1',
  of: 'ines',
  deputy: 'bram',
  role: 'change-board',
  stage: 'production',
  from: '2027-03-01T08:00:00Z',
  until: '2027-03-20T22:59:59Z',
  state: 'now',
  by: 'ines',
  reason: 'On leave',
  mayEnd: true,
  ...more,
});

const answers = (...items: object[]) => ({
  'GET /api/v1/deputies': { items },
  'GET /api/v1/stages': [{ key: 'production', name: 'Production' }],
  'GET /api/v1/roles': [{ key: 'change-board', name: 'Change board', rights: [] }],
});

test("who stands in, as what, where and how long is read; what is others' is not", async () => {
  show(<Deputies of="ines" own />, answers(deputy(), deputy({ number: 'DP-2', of: 'tove', deputy: 'edda' })));

  expect(await screen.findByText(/bram for ines: On leave/)).toBeTruthy();
  expect(screen.getByText('change-board')).toBeTruthy();
  expect(screen.queryByText(/edda/)).toBeNull();
});

test('one that is over cannot be ended, one that is now can', async () => {
  const { sent, person } = show(<Deputies of="ines" own />, {
    ...answers(deputy(), deputy({ number: 'DP-2', state: 'over', mayEnd: false })),
    'POST /api/v1/deputies/DP-1/end': deputy(),
  });

  await person.click(await screen.findByRole('button', { name: 'End DP-1' }));

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/deputies/DP-1/end']));
  expect(screen.queryByRole('button', { name: 'End DP-2' })).toBeNull();
});

test('somebody names their own without a reason, and what is missing is said', async () => {
  const { sent, person } = show(<Deputies of="ines" own />, {
    ...answers(),
    'POST /api/v1/deputies': deputy(),
  });
  const act = screen.getByRole('button', { name: 'Let them stand in for you', hidden: true });

  await person.click(act);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Login'), 'bram');
  await person.type(screen.getByLabelText('Until, to the end of'), '2027-03-20');
  await person.click(act);

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({ of: 'ines', deputy: 'bram', role: '', stage: '' });
});

test('for somebody else a reason is asked for', async () => {
  const { sent, person } = show(<Deputies of="ines" own={false} />, {
    ...answers(),
    'POST /api/v1/deputies': deputy(),
  });
  await person.type(screen.getByLabelText('Login'), 'bram');
  await person.type(screen.getByLabelText('Until, to the end of'), '2027-03-20');

  await person.click(screen.getByRole('button', { name: 'Let them stand in for ines', hidden: true }));

  expect(sent).toEqual([]);
  expect(screen.getByText('Say why, as it is not for yourself.')).toBeTruthy();
});
