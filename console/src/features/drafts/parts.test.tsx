// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { draft } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import { Renames } from './Renames';
import { Seal } from './Seal';

const checked = draft().checked;

test('a version is sealed with its title', async () => {
  const { sent, person } = show(<Seal d={draft()} />, {
    'POST /api/v1/drafts/d1/seal': { application: 'fares', number: '2.7.0' },
  });
  const seal = screen.getByRole('button', { name: /^Seal fares 2\.7\.0/ });

  await person.click(seal);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Title'), 'Concessions');
  await person.click(seal);

  await waitFor(() => expect(screen.getByLabelText('where').textContent).toBe('/versions/fares/2.7.0'));
  expect(sent[0]?.body).toMatchObject({ number: '2.7.0', title: 'Concessions', tasks: [] });
});

test.each([
  [undefined, 'Check it first.'],
  ['2027-03-01T08:00:00Z', 'Something is in the way.'],
])('what is in the way keeps it a draft (%s)', (at, why) => {
  show(<Seal d={draft({ checked: { ...checked, at, problems: ['table/fares.band: not read'] } })} />);

  expect(screen.getByText(why)).toBeTruthy();
});

test('nothing picked, nothing to check', () => {
  show(<Seal d={draft({ picks: [] })} />);

  expect(screen.getByText('Pick something first.')).toBeTruthy();
});

test('needs are one a line, tasks by commas', async () => {
  const { sent, person } = show(<Seal d={draft()} />, {
    'POST /api/v1/drafts/d1/seal': { application: 'fares', number: '2.7.0' },
  });

  await person.type(screen.getByLabelText('Title'), 'T');
  await person.type(screen.getByLabelText(/^Needs/), 'sailings >=1.8.0{Enter}{Enter}server/host >=2.0.0');
  await person.type(screen.getByLabelText(/^Done for/), 'FERRY-1, FERRY-2');
  await person.click(screen.getByRole('button', { name: /^Seal fares/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({
    needs: ['sailings >=1.8.0', 'server/host >=2.0.0'],
    tasks: ['FERRY-1', 'FERRY-2'],
  });
});

test('a likely rename is a question with its cost', async () => {
  const d = draft({
    checked: {
      ...checked,
      renames: [{ component: 'table/fares.band', was: 'note', is: 'remark', denied: false }],
    },
  });
  const { sent, person } = show(<Renames id={d.id} renames={d.checked.renames} open />, {
    'POST /api/v1/drafts/d1/two-columns': d,
  });

  expect(
    screen.getByText('If it was renamed, its values would be lost: give it its old name at the source.'),
  ).toBeTruthy();
  await person.click(screen.getByRole('button', { name: /^These are two columns/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
});

test('an answered rename asks no more', () => {
  const d = draft({
    checked: {
      ...checked,
      renames: [{ component: 'table/fares.band', was: 'note', is: 'remark', denied: true }],
    },
  });
  show(<Renames id={d.id} renames={d.checked.renames} open />);

  expect(screen.queryByRole('button')).toBeNull();
  expect(screen.getByText('Two columns, as somebody said.')).toBeTruthy();
});
