// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { Prepare } from './ListPage';

const version = { application: 'fares', number: '2.8.0', title: 'Ledger codes', withdrawn: false };
const places = {
  'GET /api/v1/applications': { items: [{ key: 'fares', name: 'Fares', paths: ['standard'] }] },
  'GET /api/v1/versions': { items: [version, { ...version, number: '2.7.0', title: 'Bands', withdrawn: true }] },
  'GET /api/v1/stages': [
    { key: 'development', role: 'development', sites: [{ key: 'main' }] },
    { key: 'test', role: 'test', sites: [{ key: 'main' }] },
  ],
};

test('what the address names is chosen, and the site is asked for', async () => {
  const { sent, person } = show(
    <Prepare />,
    { ...places, 'POST /api/v1/promotions': { number: 'P-7' } },
    '/promotions?prepare=fares%402.8.0',
    '/promotions',
  );

  expect(await screen.findByText('2.8.0 Ledger codes')).toBeTruthy();
  expect(screen.getByText('Choose where it goes.')).toBeTruthy();
  await person.click(screen.getByLabelText('To'));
  await person.click(screen.getByRole('option', { name: 'test/main' }));
  await person.click(screen.getByRole('button', { name: /^Prepare and compare/ }));

  await waitFor(() => expect(screen.getByLabelText('where').textContent).toBe('/promotions/P-7'));
  expect(sent[0]?.body).toMatchObject({ application: 'fares', version: '2.8.0', site: 'test/main' });
});

test.each([
  ['nowhere@1.0.0', 'Choose an application.'],
  ['fares@9.9.9', 'Choose a version.'],
  ['fares@2.7.0', 'Choose a version.'],
  ['fares', 'Choose a version.'],
])('what the address names and is not there, or is withdrawn, is asked for (%s)', async (named, why) => {
  const { asked } = show(<Prepare />, places, `/promotions?prepare=${encodeURIComponent(named)}`, '/promotions');

  await waitFor(() => expect(asked.length).toBeGreaterThan(2));
  expect(await screen.findByText(why)).toBeTruthy();
});
