// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { expect, test } from 'vitest';
import { show } from '../../../shared/testing/page';
import { NewStage } from './NewStage';

function Growing() {
  const [next, set] = useState(0);
  return (
    <>
      <button onClick={() => set(next + 1)}>another stage</button>
      <NewStage next={next} />
    </>
  );
}

test('what was typed stays when other stages come to be known, and the place is the newest', async () => {
  const { sent, person } = show(<Growing />, {
    'GET /api/v1/session/may': { allowed: true, why: '', who: [] },
    'PUT /api/v1/stages/rehearsing': {},
    'POST /api/v1/stages': {},
  });

  await person.click(screen.getByText('Register a stage'));
  await person.type(screen.getByLabelText('Key'), 'rehearsing');
  await person.click(screen.getByText('another stage'));
  expect(screen.getByLabelText<HTMLInputElement>('Key').value).toBe('rehearsing');
  await person.type(screen.getByLabelText('Name'), 'Rehearsing');
  await waitFor(() => expect(screen.queryByText('Asking for your rights …')).toBeNull());
  await person.click(screen.getByRole('button', { name: /^Register the stage/ }));

  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]?.body).toMatchObject({ key: 'rehearsing', name: 'Rehearsing', position: 1 });
});
