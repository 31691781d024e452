// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react';
import { expect, test } from 'vitest';
import { show } from '../../shared/testing/page';
import { promotion } from '../../shared/testing/samples';
import { PlanPart } from './PlanPart';

const plan = promotion().plan!;

test('whom the switch keeps waiting stands at the switch', () => {
  show(<PlanPart p={promotion()} />);

  const step = screen.getByText('1. Switch').closest('li')!;
  expect(within(step).getByText(/^Holds for about 3 seconds/)).toBeTruthy();
  expect(
    within(step).getByText(/^fares\.band: nobody else reads or writes it \(its structure changes; 6 rows/),
  ).toBeTruthy();
});

test('of several switches it stands at the last, which is the database', () => {
  const steps = ['files', 'database'].map((target, n) => ({ ...plan.steps[0]!, number: n + 1, target }));
  show(<PlanPart p={promotion({ plan: { ...plan, steps } })} />);

  expect(within(screen.getByText('1. Switch').closest('li')!).queryByText(/^Holds/)).toBeNull();
  expect(within(screen.getByText('2. Switch').closest('li')!).getByText(/^Holds/)).toBeTruthy();
});

test('where it is not known, nothing is said of it', () => {
  const locked = { tables: [], about: '', basis: '', before: [], after: [] };
  show(<PlanPart p={promotion({ plan: { ...plan, locked } })} />);

  expect(screen.queryByText(/^Holds/)).toBeNull();
});
