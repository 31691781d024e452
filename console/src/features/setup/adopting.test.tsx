// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { yes } from '../../shared/testing/samples';
import AdoptPage from './AdoptPage';

const candidate = (component: string) => ({
  component,
  rows: component.startsWith('table/') ? 7 : 0,
  size: component.startsWith('table/') ? 0 : 120,
  key: component.startsWith('table/') ? ['code'] : [],
  keyProblem: '',
  keyRemark: '',
  refusals: [],
  risks: [],
});

const answers = {
  'GET /api/v1/session/may': yes,
  'GET /api/v1/stages': [
    { key: 'production', name: 'Production', role: 'production', position: 2, sites: [{ key: 'north', targets: [] }] },
  ],
  'GET /api/v1/versions': { items: [] },
  'GET /api/v1/applications/fares/candidates': [candidate('table/fares.band'), candidate('grant/fares.band.clerk')],
  'POST /api/v1/applications/fares/adopt': { application: 'fares', number: '1.0.0' },
};

async function chosen() {
  const page = show(<AdoptPage />, answers, '/applications/fares/adopt', '/applications/:application/adopt');
  await page.person.click(await screen.findByLabelText('Site'));
  await page.person.click(within(screen.getByRole('listbox')).getByText('production/north'));
  await screen.findByText('table/fares.band');
  return page;
}

test('what roles may do is asked for only when somebody wants it', async () => {
  const { asked, person } = await chosen();
  const candidates = () => asked.filter((a) => a.includes('/candidates'));
  expect(candidates().some((a) => a.includes('grants'))).toBe(false);

  await person.click(screen.getByLabelText('Also what roles may do'));

  await screen.findByText('table/fares.band');
  expect(candidates().at(-1)).toContain('grants=true');
  expect(screen.getByText(/carried only where they are picked/)).toBeTruthy();
});

test('what is ticked is adopted, rows by themselves', async () => {
  const { sent, person } = await chosen();
  await person.click(screen.getByLabelText('Take table/fares.band'));
  await person.click(screen.getByLabelText('Rows of table/fares.band'));
  await person.click(screen.getByLabelText('Take grant/fares.band.clerk'));
  await person.type(screen.getByLabelText('Title'), 'Was there');

  await person.click(screen.getByRole('button', { name: 'Adopt production/north as fares 1.0.0' }));

  expect(sent).toEqual([
    {
      what: 'POST /api/v1/applications/fares/adopt',
      body: {
        site: 'production/north',
        number: '1.0.0',
        title: 'Was there',
        picks: ['table/fares.band', 'records/fares.band', 'grant/fares.band.clerk'].map((component) => ({
          component,
          generatedKeyConfirmed: false,
        })),
      },
    },
  ]);
});
