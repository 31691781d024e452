// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { show } from '../../shared/testing/page';
import { no } from '../../shared/testing/samples';
import { LeftOver } from './LeftOver';

const at = '/api/v1/records/fares/production/north/left-over';
const path = { application: 'fares', stage: 'production', site: 'north' };

const item = (more: Partial<Schemas['LeftOverItem']> = {}): Schemas['LeftOverItem'] => ({
  target: 'database',
  sort: 'before',
  shown: 'as it was before a switch',
  name: 'before_12_0',
  run: 'R-12',
  bytes: 8192,
  why: '',
  ...more,
});

const list = (items: Schemas['LeftOverItem'][], may: Schemas['MayView'] = { allowed: true, why: '', who: [] }) => ({
  application: 'fares',
  site: 'production/north',
  production: true,
  items,
  may,
});

const open = (v: Schemas['LeftOverView']) =>
  show(<LeftOver path={path} />, { [`GET ${at}`]: v, [`POST ${at}/clear`]: list([]) });

test('what is left over is asked for only when somebody wants it', async () => {
  const { person, asked } = open(list([item(), item({ name: 'run-7', target: 'files', bytes: undefined })]));

  expect(asked.length).toBe(0);
  await person.click(await screen.findByRole('button', { name: 'Look what is left over' }));

  expect(await screen.findByText('before_12_0')).toBeTruthy();
  expect(screen.getByText('9 kB')).toBeTruthy();
  expect(screen.getByText('not told')).toBeTruthy();
});

test('it is cleared after its cost was said', async () => {
  const { person, sent } = open(list([item()]));

  await person.click(await screen.findByRole('button', { name: 'Look what is left over' }));
  await person.click(await screen.findByRole('button', { name: 'Clear before_12_0' }));
  expect(sent.length).toBe(0);
  expect(screen.getByText('Remove before_12_0 for good?')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Clear before_12_0' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ names: ['before_12_0'] }));
  expect(await screen.findByText('Nothing is left over that Plenzo knows of.')).toBeTruthy();
});

test('what cannot be cleared says why', async () => {
  const { person } = open(list([item({ why: 'R-12 is not over.' })]));
  await person.click(await screen.findByRole('button', { name: 'Look what is left over' }));

  expect(await screen.findByText('R-12 is not over.')).toBeTruthy();
});

test('whoever may not clear is told', async () => {
  const { person } = open(list([item()], no('operate', 'Tove')));
  await person.click(await screen.findByRole('button', { name: 'Look what is left over' }));

  expect(await screen.findByText(/Tove/)).toBeTruthy();
});
