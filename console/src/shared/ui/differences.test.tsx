// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Schemas } from '../data/api';
import { show } from '../testing/page';
import { drawnStyle } from '../testing/style';
import { Attributes } from './differences';

const change = (present: string | null, incoming: string | null): Schemas['AttributeChange'] =>
  ({
    name: 'line 1',
    present,
    incoming,
    presentAbsent: present === null,
    incomingAbsent: incoming === null,
  }) as Schemas['AttributeChange'];

const space = (text: RegExp) => drawnStyle(screen.getByText(text)).whiteSpace;

test('code that comes or goes stands line by line', () => {
  show(<Attributes of="routine/fares.half" heads={['now', 'then']} list={[change('one\ntwo', 'three\nfour')]} />);

  expect(space(/^one/)).toBe('pre-wrap');
  expect(space(/^three/)).toBe('pre-wrap');
});

test('a value of one line flows', () => {
  show(<Attributes of="records/fares.band" heads={['now', 'then']} list={[change('one', 'two')]} />);

  expect(space(/^one/)).not.toBe('pre-wrap');
  expect(space(/^two/)).not.toBe('pre-wrap');
});

test('what is not there says so', () => {
  show(<Attributes of="view/fares.board" heads={['now', 'then']} list={[change(null, 'one\ntwo')]} />);

  expect(screen.getByText('not there')).toBeTruthy();
});
