// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { no, promotion, yes } from '../../shared/testing/samples';
import { OutsidePart } from './OutsidePart';

const outside = (more: object = {}) => ({
  name: 'change desk',
  address: 'https://desk.morrowick.example/ask',
  seconds: 10,
  ofThisPlan: true,
  said: '',
  ...more,
});

test('nothing is shown where nobody outside is asked', () => {
  show(<OutsidePart p={promotion()} />, {});

  expect(screen.queryByRole('heading')).toBeNull();
});

test('they are asked, and what they said is read with its plan', async () => {
  const p = promotion({ outside: outside(), may: { 'ask-outside': yes } });
  const { sent, person } = show(<OutsidePart p={p} />, { 'POST /api/v1/promotions/P-7/ask-outside': p });

  expect(screen.getByText('Not asked yet.')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Ask change desk now' }));

  await waitFor(() => expect(sent.map((s) => s.what)).toEqual(['POST /api/v1/promotions/P-7/ask-outside']));
});

test.each([
  [{ yes: true, by: 'ines' }, /^Yes, asked by ines/],
  [{ yes: false, said: 'did not answer within 10 s', by: 'ines' }, /^No: did not answer within 10 s, asked by ines/],
  [{ yes: true, ofThisPlan: false, by: 'ines' }, /^Yes, of another plan than this one, asked by ines/],
])('what was said: %#', (said, words) => {
  show(
    <OutsidePart
      p={promotion({
        outside: outside({ at: '2027-03-01T08:00:00Z', ...said }),
        may: { 'ask-outside': no('right', 'bram lacks the right "prepare".') },
      })}
    />,
    {},
  );

  expect(screen.getByText(words)).toBeTruthy();
});
