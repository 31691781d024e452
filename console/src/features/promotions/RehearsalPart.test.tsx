// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { no, promotion, yes } from '../../shared/testing/samples';
import { Refused, show } from '../../shared/testing/page';
import { Rehearsed, RehearsalPart } from './RehearsalPart';

type View = Schemas['RehearsalView'];

const rehearsal = (more: Partial<View> = {}): View => ({
  number: 'RH-1',
  promotion: 'P-7',
  application: 'fares',
  version: '2.6.1',
  site: 'production/main',
  fingerprint: '7c1e-90ab-k3mz',
  ofThisPlan: true,
  by: 'ines',
  began: '2027-03-02T22:00:00Z',
  ended: '2027-03-02T22:00:04Z',
  result: 'proven',
  sentence: 'The plan was carried out on a copy and taken back.',
  parts: [
    { name: 'Copy the database', began: '2027-03-02T22:00:00Z', seconds: 2.5, note: '3 tables' },
    { name: 'Take it back', began: '2027-03-02T22:00:03Z', seconds: 1, note: '4 rows written' },
  ],
  beside: ['1 definition of host: a host has no place of its own for it'],
  mayStop: false,
  ...more,
});

const p = promotion({ may: { rehearse: yes } });
const list = (...items: View[]) => ({ 'GET /api/v1/rehearsals': { items } });
const start = () => screen.getByRole('button', { name: 'Rehearse P-7 on a copy of production/main' });

test('what was done on the copy, how long it took, and what was not rehearsed', async () => {
  show(<RehearsalPart p={p} />, list(rehearsal()));

  expect(await screen.findByText('Came through')).toBeTruthy();
  expect(screen.getByText(/3 tables/).textContent).toContain('2.5 s');
  expect(screen.getByText('1 definition of host: a host has no place of its own for it')).toBeTruthy();
});

test('it is begun once its cost was said', async () => {
  const { sent, person } = show(<RehearsalPart p={p} />, {
    ...list(),
    'POST /api/v1/promotions/P-7/rehearse': rehearsal({ result: 'going-on', ended: undefined }),
  });
  expect(await screen.findByText('Not rehearsed.')).toBeTruthy();
  expect(screen.getByText(/The site is only read, as much as by a backup/)).toBeTruthy();

  await person.click(start());

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/promotions/P-7/rehearse']));
});

test('one that goes on says so, keeps another from beginning, and can be stopped', async () => {
  const { sent, person } = show(<RehearsalPart p={p} />, {
    ...list(
      rehearsal({
        result: 'going-on',
        ended: undefined,
        sentence: '',
        mayStop: true,
        parts: [{ name: 'Copy the database', began: '2027-03-02T22:00:00Z', note: '' }],
      }),
    ),
    'POST /api/v1/rehearsals/RH-1/stop': rehearsal(),
  });

  await screen.findByText('Going on');
  await person.click(start());
  expect(sent).toEqual([]);
  expect(screen.getByText('RH-1 is going on.')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Stop RH-1' }));
  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/rehearsals/RH-1/stop']));
});

test('one that failed says at which part, and why once', async () => {
  const why = 'The database refused a statement: column "x" does not exist.';
  show(
    <RehearsalPart p={p} />,
    list(
      rehearsal({
        result: 'failed',
        sentence: why,
        parts: [{ name: 'Carry out the plan', began: '2027-03-02T22:00:00Z', seconds: null as never, note: why }],
        beside: [],
      }),
    ),
  );

  expect(await screen.findAllByText(why)).toHaveLength(1);
  expect(screen.getByText('did not end')).toBeTruthy();
});

test("why nothing can be rehearsed is the server's word", async () => {
  const { person } = show(<RehearsalPart p={p} />, {
    ...list(),
    'POST /api/v1/promotions/P-7/rehearse': new Refused(409, {
      code: 'NOTHING_TO_REHEARSE',
      detail: 'Nothing that P-7 changes can be copied.',
      next: [],
    }),
  });

  await person.click(start());

  expect(await screen.findByText(/Nothing that P-7 changes can be copied/)).toBeTruthy();
});

test('who may not is told why', async () => {
  const { sent, person } = show(
    <RehearsalPart p={promotion({ may: { rehearse: no('right', 'edda lacks the right "prepare".', 'ines') } })} />,
    list(),
  );

  await person.click(start());

  expect(sent).toEqual([]);
  expect(screen.getByText(/edda lacks the right "prepare"/)).toBeTruthy();
});

test('an approver reads whether this very plan was rehearsed', () => {
  show(
    <>
      <Rehearsed of={{ number: 'RH-1', result: 'proven', ofThisPlan: false, beside: 1 }} />
      <Rehearsed of={undefined} />
    </>,
  );

  expect(screen.getByText('Came through')).toBeTruthy();
  expect(screen.getByText(/RH-1, of another plan than this one, but for 1 thing/)).toBeTruthy();
  expect(document.body.textContent).toContain('Not rehearsed.');
});
