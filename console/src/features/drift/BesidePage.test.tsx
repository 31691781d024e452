// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../../shared/data/api';
import { show } from '../../shared/testing/page';
import BesidePage from './BesidePage';

const compared = (more: Partial<Schemas['ComparedSidesView']> = {}): Schemas['ComparedSidesView'] => ({
  application: 'fares',
  site: 'production/north',
  with: 'test/main',
  all: 1,
  groups: [{ component: 'records/fares.band', changed: 1, gone: 0, onlyThere: 0 }],
  items: [
    {
      place: 'records/fares.band#row/"PEAK"',
      component: 'records/fares.band',
      how: 'changed',
      attributes: [
        { name: 'amount', present: '25.00', incoming: '20.00', presentAbsent: false, incomingAbsent: false },
      ],
      valuesHidden: false,
    },
  ],
  ...more,
});

const open = (answer: Schemas['ComparedSidesView'], query = '?with=test/main') =>
  show(
    <BesidePage />,
    {
      'GET /api/v1/records/fares/production/north/compare': answer,
      'GET /api/v1/stages': [
        { key: 'test', sites: [{ key: 'main', targets: [] }] },
        { key: 'production', sites: [{ key: 'north', targets: [] }] },
      ],
      'GET /api/v1/versions': { items: [{ number: '2.4.0', title: 'Summer fares' }] },
    },
    `/compare/fares/production/north${query}`,
    '/compare/:application/:stage/:site',
  );

test('the two sides are named over what each holds', async () => {
  open(compared());

  const table = await screen.findByRole('table', { name: /row PEAK/ });
  expect(
    within(table)
      .getAllByRole('columnheader')
      .map((h) => h.textContent),
  ).toEqual(['Attribute', 'test/main', 'production/north']);
  expect(
    within(table)
      .getAllByRole('cell')
      .map((c) => c.textContent),
  ).toEqual(['amount', '20.00', '25.00']);
  expect(screen.getByText('1 part or row differs.')).toBeTruthy();
});

test('what is chosen stands in the address, and a site is not held against itself', async () => {
  const { person, asked } = open(compared(), '');

  await person.click(await screen.findByRole('combobox'));
  const names = (await screen.findAllByRole('option')).map((o) => o.textContent);
  expect(names).toEqual(['test/main', '2.4.0 Summer fares']);
  await person.click(screen.getByRole('option', { name: /2.4.0/ }));

  await waitFor(() => expect(screen.getByLabelText('where').textContent).toContain('with=2.4.0'));
  expect(asked.some((a) => a.includes('with=2.4.0'))).toBe(true);
});

test('what is not shown is counted', async () => {
  open(compared({ all: 812 }));

  expect(await screen.findByText('812 parts or rows differ; the first 1 are shown.')).toBeTruthy();
});

test('nothing is said to be equal beyond what is compared', async () => {
  open(compared({ all: 0, groups: [], items: [] }));

  expect(await screen.findByText('Nothing that Plenzo compares differs.')).toBeTruthy();
});

test('a past day is held beside by the version that was there', async () => {
  open(compared({ with: '2.4.0, of 2027-03-01' }), '?with=2027-03-01');

  expect(await screen.findByRole('columnheader', { name: '2.4.0, of 2027-03-01' })).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>('Or what was recorded there on').value).toBe('2027-03-01');
});
