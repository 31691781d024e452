import { describe, expect, it } from 'vitest';
import { finding } from '../../shared/testing/samples';
import { byConsequence, decidedOf, differing, firstOf, movedSince, wayWords } from './model';
import { t } from './texts';

const component = (index: number, key: string, difference: string, counts = {}) => ({
  index,
  key,
  difference,
  parts: [],
  counts: { added: 0, changed: 0, removed: 0, conflict: 0, kept: 0, same: 0, ...counts },
});

describe('components of a comparison', () => {
  const all = [
    component(0, 'table/b', 'same'),
    component(1, 'records/b', 'added', { added: 2 }),
    component(2, 'table/a', 'kept'),
    component(3, 'records/a', 'conflict', { conflict: 1, added: 1 }),
  ];

  it('puts what needs a decision first and leaves out what is the same', () => {
    expect(differing(all, null).map((c) => c.key)).toEqual(['records/a', 'records/b', 'table/a']);
  });

  it('keeps only those that have rows of the class', () => {
    expect(differing(all, 'added').map((c) => c.key)).toEqual(['records/a', 'records/b']);
  });

  it('opens the first that would be written', () => {
    expect(firstOf(differing(all, null))).toBe(3);
    expect(firstOf([])).toBe(-1);
  });
});

describe('a decision', () => {
  it('of a row stands before that of its component', () => {
    const decisions = { 'records/a': 'keep', 'records/a#row/"X"': 'take-incoming' };
    expect(decidedOf(decisions, 'records/a', 'records/a#row/"X"')).toBe('take-incoming');
    expect(decidedOf(decisions, 'records/a', 'records/a#row/"Y"')).toBe('keep');
    expect(decidedOf({}, 'records/a', 'records/a#row/"Y"')).toBeNull();
  });
});

describe('a way back', () => {
  it('says how far it is covered, and nothing of that where it is closed', () => {
    expect(wayWords({ sentence: 'Switch back', possible: true, ceiling: 0 })).toBe(
      'Switch back. A yes to this plan covers it while nothing is lost, until the version is judged good',
    );
    expect(wayWords({ sentence: 'Restore', possible: true, ceiling: 1 })).toBe(
      'Restore. A yes to this plan covers it while no more than 1 row is lost, until the version is judged good',
    );
    expect(wayWords({ sentence: 'There is no backup', possible: false, ceiling: 0 })).toBe('There is no backup');
  });
});

describe('components by what they ask of people', () => {
  const all = [
    component(0, 'records/a', 'conflict', { conflict: 1, removed: 1 }),
    component(1, 'table/b', 'changed', { removed: 1, changed: 1 }),
    component(2, 'table/c', 'changed', { changed: 1 }),
    component(3, 'table/cc', 'changed', { changed: 1 }),
  ];
  const groups = (...findings: Parameters<typeof byConsequence>[1]) =>
    byConsequence(all, findings).map((g) => [g.consequence, ...g.components.map((c) => c.key)]);

  it('puts what is to be decided first, then what takes something away', () => {
    expect(groups()).toEqual([
      ['decide', 'records/a'],
      ['loses', 'table/b'],
      ['rest', 'table/c', 'table/cc'],
    ]);
  });

  it('tells by the findings what may stop working, at that component alone', () => {
    expect(groups(finding({ place: 'table/c#column/x' }))).toContainEqual(['stops', 'table/c']);
    expect(groups(finding({ place: 'table/c', severity: 'note' }))).toContainEqual(['rest', 'table/c', 'table/cc']);
  });

  it('marks what moved since the comparison before, and nothing of a like name', () => {
    const moved = ['table/c: its structure moved here', 'records/a row "X": amount'];
    expect(['table/c', 'table/cc', 'records/a'].map((k) => movedSince(moved, k))).toEqual([true, false, true]);
  });
});

it('counts conflicts in their number', () => {
  expect(t.approvePart.conflictsKept(1, 0)).toBe(', 1 conflict, 0 kept. ');
  expect(t.approvePart.conflictsKept(2, 1)).toBe(', 2 conflicts, 1 kept. ');
});
