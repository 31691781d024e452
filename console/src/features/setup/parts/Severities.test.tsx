// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../../shared/testing/page';
import type { Stage } from '../api';
import { Severities } from './Severities';

const stage: Stage = {
  key: 'production',
  name: 'Production',
  role: 'production',
  position: 2,
  zone: 'UTC',
  driftCloses: false,
  sites: [],
  revision: 4,
  severities: [{ rule: 'other-open', bound: 'at-most', severity: 'note', reason: 'All try things here' }],
};

const server = {
  'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
  'GET /api/v1/rules': [
    { rule: 'arrives-off', severity: 'risk', lowered: true },
    { rule: 'wrong-identity', severity: 'blocker', lowered: false },
  ],
  'PUT /api/v1/stages/production': stage,
};

async function choose(person: ReturnType<typeof show>['person'], label: string, option: string) {
  await person.click(screen.getByRole('combobox', { name: label }));
  await person.click(within(await screen.findByRole('listbox')).getByText(option));
}

test('what a rule finds is raised beside what is judged otherwise already', async () => {
  const { sent, person } = show(<Severities s={stage} />, server);
  expect(screen.getByText(/What other-open finds is at most a note here/).textContent).toContain('All try things here');

  await person.click(screen.getByText(/^Find worse or less bad/));
  await choose(person, 'Rule', 'arrives-off');
  await person.click(screen.getByRole('button', { name: /^Judge it so here/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({
    revision: 4,
    severities: [stage.severities?.[0], { rule: 'arrives-off', bound: 'at-least', severity: 'blocker', reason: '' }],
  });
});

test('what is fixed is not lowered, and what is lowered needs a reason', async () => {
  const { sent, person } = show(<Severities s={stage} />, server);
  await person.click(screen.getByText(/^Find worse or less bad/));
  await choose(person, 'What it finds is here', 'at most a note');
  await choose(person, 'Rule', 'wrong-identity');
  expect(screen.getAllByText('What wrong-identity finds is not lowered anywhere.').length).toBeGreaterThan(0);

  await choose(person, 'Rule', 'arrives-off');
  expect(screen.getAllByText('Say why it is less bad here.').length).toBeGreaterThan(0);
  await person.type(screen.getByLabelText('Reason'), 'Nobody works here');
  await person.click(screen.getByRole('button', { name: /^Judge it so here/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
});

test('it is judged as the rule does again', async () => {
  const { sent, person } = show(<Severities s={stage} />, server);
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());

  await person.click(screen.getByRole('button', { name: /^Judge other-open as the rule does/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({ severities: [] });
});
