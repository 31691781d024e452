import type { Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';

export const classes = ['conflict', 'removed', 'changed', 'added'] as const;
export const quiet = ['same', 'kept'] as const;

type Component = Schemas['ComponentChange'];

/** Components that differ, those that need a decision or lose something first. */
export function differing(components: Component[], only: string | null): Component[] {
  const order = ['conflict', 'removed', 'changed', 'added', 'kept', 'same'];
  return components
    .filter((c) => (only ? c.counts[only as 'added'] > 0 : c.difference !== 'same'))
    .sort((a, b) => order.indexOf(a.difference) - order.indexOf(b.difference) || a.key.localeCompare(b.key));
}

/** The component that is open at first: the first that would be written. */
export function firstOf(list: Component[]): number {
  return (list.find((c) => c.difference !== 'kept') ?? list[0])?.index ?? -1;
}

/** What was decided for a part: its own decision, else its component's. */
export function decidedOf(decisions: Record<string, string>, component: string, at: string): string | null {
  return decisions[at] ?? decisions[component] ?? null;
}

/** A way back, and how far an approval covers it. */
export function wayWords(way: { sentence: string; possible: boolean; ceiling: number }): string {
  if (!way.possible) return way.sentence;
  const bound =
    way.ceiling === 0
      ? 'nothing is'
      : `no more than ${plural(way.ceiling, 'row', 'rows')} ${way.ceiling === 1 ? 'is' : 'are'}`;
  return `${way.sentence}. A yes to this plan covers it while ${bound} lost, until the version is judged good`;
}

/** What a difference asks of people, the gravest first. */
export const consequences = ['decide', 'loses', 'stops', 'rest'] as const;
export type Consequence = (typeof consequences)[number];

/** Whether something of it goes: parts or rows, or what a check counted as lost. */
function loses(c: Component): boolean {
  return c.counts.removed > 0;
}

/** Whether a check found that something else may stop working, or that it cannot be. */
function stops(c: Component, findings: Schemas['FindingView'][]): boolean {
  return findings.some((f) => f.severity !== 'note' && (f.place === c.key || f.place.startsWith(`${c.key}#`)));
}

/** Components by what they ask of people; groups that are empty are left out. */
export function byConsequence(components: Component[], findings: Schemas['FindingView'][]) {
  const of = (c: Component): Consequence =>
    c.counts.conflict > 0 ? 'decide' : loses(c) ? 'loses' : stops(c, findings) ? 'stops' : 'rest';
  return consequences
    .map((consequence) => ({ consequence, components: components.filter((c) => of(c) === consequence) }))
    .filter((g) => g.components.length > 0);
}

/** Whether what moved since the comparison before is in that component. */
export function movedSince(moved: string[], key: string): boolean {
  return moved.some((m) => m === key || [':', ' ', '#', ','].some((c) => m.startsWith(key + c)));
}

/** Whether both sides moved an attribute away from what both had before. */
export function movedByBoth(a: Schemas['AttributeChange']): boolean {
  if (!a.base) return false;
  const is = (value: string | undefined, absent: boolean) =>
    absent === a.base?.absent && (value ?? null) === (a.base?.value ?? null);
  return !is(a.present, a.presentAbsent) && !is(a.incoming, a.incomingAbsent);
}
