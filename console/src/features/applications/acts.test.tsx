// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { no, yes } from '../../shared/testing/samples';
import { show } from '../../shared/testing/page';
import { Bindings } from './Bindings';
import { Maintenance } from './Maintenance';
import { Repository } from './Repository';

const work = (more: object = {}) => ({
  maintenance: false,
  people: 3,
  others: 1,
  running: [{ id: '1', what: 'Sale', person: 'Ada', component: 'rule/fares.peak' }],
  ...more,
});
const site = 'production/north';

test('who works there is said before only operators are let in, with a reason', async () => {
  const { sent, person } = show(<Maintenance application="fares" site={site} />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/sites/production/north/work': work(),
    'POST /api/v1/sites/production/north/maintenance': work({ maintenance: true }),
  });

  await person.click(screen.getByText('Who works there now, and maintenance'));
  expect(await screen.findByText(/production\/north is open\. 3 people signed in\./)).toBeTruthy();
  expect(screen.getByRole('table', { name: 'Running work' }).textContent).toContain('SaleAdarule/fares.peak');
  expect(screen.getByText('One more, of an application that you may not see.')).toBeTruthy();
  const close = screen.getByRole('button', { name: 'Let only operators into production/north' });
  await person.click(close);
  expect(sent).toEqual([]);
  await person.type(screen.getByLabelText('Why?'), 'Checking by hand');
  await person.click(close);

  await waitFor(() => expect(sent[0]?.body).toEqual({ on: true, reason: 'Checking by hand' }));
});

test('everybody is let in again', async () => {
  const { sent, person } = show(<Maintenance application="fares" site={site} />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/sites/production/north/work': work({ maintenance: true, running: [], others: 0 }),
    'POST /api/v1/sites/production/north/maintenance': work(),
  });

  await person.click(screen.getByText('Who works there now, and maintenance'));
  expect(await screen.findByText(/lets only operators in/)).toBeTruthy();
  await person.type(screen.getByLabelText('Why?'), 'Checked');
  await person.click(screen.getByRole('button', { name: 'Let everybody into production/north again' }));

  await waitFor(() => expect(sent[0]?.body).toEqual({ on: false, reason: 'Checked' }));
});

test('who may not operate reads why', async () => {
  const { person } = show(<Maintenance application="fares" site={site} />, {
    'GET /api/v1/session/may': no('right', 'You lack the right “operate” here.', 'olga'),
    'GET /api/v1/sites/production/north/work': work(),
  });

  await person.click(screen.getByText('Who works there now, and maintenance'));

  expect(await screen.findByText(/You lack the right “operate” here/)).toBeTruthy();
});

test('a value is cleared after it was said what the host keeps', async () => {
  const { sent, person } = show(<Bindings application="fares" sites={[site]} />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/applications/fares/inputs': [
      {
        name: 'terminal-address',
        type: 'address',
        description: '',
        secret: false,
        neededBy: ['rule/fares.peak'],
        state: 'bound',
        note: '',
        value: 'https://a.example',
        boundAt: 'production',
        setBy: 'olga',
        revision: 4,
        given: 'given',
      },
    ],
    'POST /api/v1/bindings/clear': {},
  });

  await person.click(await screen.findByRole('button', { name: 'Clear terminal-address' }));
  expect(sent).toEqual([]);
  expect(screen.getByText(/The host keeps what it was given/)).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Clear terminal-address at production for good' }));

  await waitFor(() =>
    expect(sent[0]?.body).toEqual({
      application: 'fares',
      place: 'production',
      input: 'terminal-address',
      revision: 4,
    }),
  );
});

test('a repository is forgotten after it was said what stays', async () => {
  const { sent, person } = show(<Repository application="boarding" />, {
    'GET /api/v1/session/may': yes,
    'GET /api/v1/applications/boarding/repository': { address: 'https://git.example/b', branch: 'main', revision: 2 },
    'DELETE /api/v1/applications/boarding/repository': {},
  });

  await person.click(await screen.findByRole('button', { name: 'Take its documents from there no more' }));
  expect(screen.getByText(/Versions that came from there stay/)).toBeTruthy();
  expect(sent).toEqual([]);
  await person.click(screen.getByRole('button', { name: 'Forget the repository for good' }));

  await waitFor(() => expect(sent[0]?.what).toBe('DELETE /api/v1/applications/boarding/repository'));
});
