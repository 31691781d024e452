// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { Refused, show } from '../../shared/testing/page';
import FindBox from './FindBox';
import { bareNumber, found, whoseVersions, type KnownThings } from './model';
import { t } from './texts';

const known = {
  applications: [
    { key: 'fares', name: 'Fares', owner: 'Ticketing team' },
    { key: 'sailings', name: 'Sailings', owner: 'Operations' },
    { key: 'old-fares', name: 'Old', owner: 'Nobody' },
  ],
  versions: [
    { application: 'fares', number: '2.6.1', title: 'Summer fares' },
    { application: 'fares', number: '2.4.0', title: 'Night crossing' },
    { application: 'sailings', number: '2.6.0', title: 'Berths' },
  ],
  releases: [{ key: 'summer', title: 'Summer timetable' }],
  people: [{ login: 'ines', name: 'Ines Falk, release manager' }],
} as unknown as KnownThings;

const to = (text: string) => found(text, known, t.sorts).map((f) => f.to);

test('numbers go to their page without any list', () => {
  expect(to('P-15')).toEqual(['/promotions/P-15']);
  expect(to('r3')).toEqual(['/runs/R-3']);
  expect(to(' d-1 ')).toEqual(['/drafts/D-1']);
  expect(to('P-')).toEqual([]);
});

test('what is called so stands before what has it inside', () => {
  expect(to('fares')).toEqual([
    '/applications/fares',
    '/applications/old-fares',
    '/versions/fares/2.6.1',
    '/versions/fares/2.4.0',
  ]);
});

test('versions are found by number, of one application behind its @, and by title', () => {
  expect(to('2.6')).toEqual(['/versions/fares/2.6.1', '/versions/sailings/2.6.0']);
  expect(to('fares@2')).toEqual(['/versions/fares/2.6.1', '/versions/fares/2.4.0']);
  expect(to('fares@')).toEqual(['/versions/fares/2.6.1', '/versions/fares/2.4.0']);
  expect(to('night')).toEqual(['/versions/fares/2.4.0']);
});

test('versions are asked of few applications only', () => {
  expect(whoseVersions('fares@2', known.applications)).toEqual(['fares']);
  expect(whoseVersions('2.6', known.applications)).toEqual([]);
  expect(whoseVersions('sai', known.applications)).toEqual(['sailings']);
  expect(whoseVersions('P-15', known.applications)).toEqual([]);
  expect(whoseVersions('', known.applications)).toEqual([]);
});

test('a number alone is asked of all applications at once', async () => {
  expect(bareNumber('2.6')).toBe('2.6');
  expect(bareNumber(' 2.6.0-rc.1 ')).toBe('2.6.0-rc.1');
  expect(bareNumber('fares')).toBeUndefined();
  const { person, asked } = show(<FindBox onClose={() => {}} />, answers);

  await person.type(screen.getByRole('combobox', { name: 'Name or number' }), '2.6');

  await waitFor(() => expect(screen.getAllByRole('option').length).toBe(2));
  expect(asked.filter((a) => a.includes('/versions?')).every((a) => !a.includes('application='))).toBe(true);
});

test('people and releases are found by name too', () => {
  expect(to('ines')).toEqual(['/setup/people/ines']);
  expect(to('falk')).toEqual(['/setup/people/ines']);
  expect(to('summer')).toEqual(['/releases/summer', '/versions/fares/2.6.1']);
  expect(to('   ')).toEqual([]);
});

const answers = {
  'GET /api/v1/applications': { items: known.applications },
  'GET /api/v1/versions': { items: known.versions },
  'GET /api/v1/releases': { items: known.releases },
  'GET /api/v1/people': new Refused(403, { code: 'NOT_ALLOWED', detail: 'no', next: [] }),
};

test('arrows choose, Enter goes there, and who may not see people still finds the rest', async () => {
  let closed = 0;
  const { person } = show(<FindBox onClose={() => closed++} />, answers);

  await person.type(screen.getByRole('combobox', { name: 'Name or number' }), 'fares');
  const list = await screen.findByRole('listbox', { name: 'What was found' });
  await waitFor(() => expect(within(list).getAllByRole('option').length).toBeGreaterThan(2));
  expect(within(list).getAllByRole('option')[0]?.getAttribute('aria-selected')).toBe('true');
  await person.keyboard('{ArrowDown}{ArrowDown}{ArrowUp}{Enter}');

  expect(closed).toBe(1);
  expect(screen.getByLabelText('where').textContent).toBe('/applications/old-fares');
});

test('what is not there is said', async () => {
  const { person } = show(<FindBox onClose={() => {}} />, answers);

  await person.type(screen.getByRole('combobox', { name: 'Name or number' }), 'zzz');

  expect((await screen.findByRole('status')).textContent).toBe('Nothing that you may see is called so.');
});
