// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { promotion } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import { SchedulePart } from './SchedulePart';

const p = promotion({ state: 'agreed' });
const waiting = {
  number: 'SC-1',
  promotion: p.number,
  application: 'fares',
  version: '2.6.1',
  site: 'production/main',
  at: '2027-03-10T22:00:00Z',
  by: 'ines',
  state: 'waiting',
  sentence: 'Its plan is another now: as it is, it will be refused',
  mayWithdraw: true,
};
const server = (...schedules: unknown[]) => ({
  'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  'GET /api/v1/schedules': schedules,
  [`POST /api/v1/promotions/${p.number}/schedule`]: waiting,
  'POST /api/v1/schedules/SC-1/withdraw': waiting,
});
const ready = () => waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());

test('what is agreed starts at the next opening', async () => {
  const { sent, person } = show(
    <SchedulePart p={{ ...p, gates: [], compared: { ...p.compared, takesAway: [] } }} />,
    server(),
  );
  await ready();

  await person.click(await screen.findByRole('button', { name: /^Let it start at the next opening/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({ fingerprint: p.plan?.fingerprint });
});

test('another gate than the calendar is met first', async () => {
  const gates = [
    { code: 'calendar', words: 'Production is frozen', right: 'administer' },
    { code: 'approvals', words: 'approval 0 of 1', right: 'approve' },
  ];
  const { sent, person } = show(<SchedulePart p={{ ...p, gates }} />, server());
  await ready();

  await person.click(await screen.findByRole('button', { name: /^Let it start at the next opening/ }));

  expect(screen.getAllByText('First: approval 0 of 1.').length).toBeGreaterThan(0);
  expect(sent).toHaveLength(0);
});

test('one that waits says what moved, and is withdrawn', async () => {
  const { sent, person } = show(<SchedulePart p={p} />, server(waiting));
  expect((await screen.findByText(/Its plan is another now/)).textContent).toContain('by ines');

  await person.click(screen.getByRole('button', { name: /^Withdraw SC-1/ }));

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/schedules/SC-1/withdraw']));
});
