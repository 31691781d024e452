import type { Schemas } from '../../shared/data/api';

type Cell = Schemas['StandingCell'];

/** The cells of a stage, in the order of its sites. */
export function cellsOf(line: Schemas['StandingLine'], stage: string): Cell[] {
  return line.cells.filter((c) => c.site.startsWith(`${stage}/`));
}

/** How many cells of a stage are in each condition that is not good, worst first. */
export function notGood(lines: Schemas['StandingLine'][], stage: string): [string, number][] {
  const order = ['half written', 'judged bad', 'not reachable', 'drifted', 'rolled back'];
  const counts = new Map<string, number>();
  for (const line of lines)
    for (const cell of cellsOf(line, stage)) counts.set(cell.condition, (counts.get(cell.condition) ?? 0) + 1);
  return order.filter((c) => counts.has(c)).map((c) => [c, counts.get(c)!]);
}

/** Where an activity leads. */
export function linkOf(link?: string | null): string | null {
  if (!link) return null;
  if (link.startsWith('release ')) return `/releases/${link.slice(8)}`;
  return link.startsWith('P-') ? `/promotions/${link}` : link.startsWith('R-') ? `/runs/${link}` : null;
}

/** What is on its way into production, and where to see it. */
export function onTheWay(
  data: Schemas['StandingView'],
): { application: string; site: string; text: string; link: string }[] {
  return data.lines.flatMap((line) =>
    line.cells
      .filter((c) => c.production && c.activity && c.activity !== 'frozen')
      .map((c) => ({
        application: line.application,
        site: c.site,
        text: c.activityText,
        link: linkOf(c.link) ?? '/promotions',
      })),
  );
}

/** What waits and where to do it. */
export function waitingLink(w: Schemas['WaitingView']): string {
  return linkOf(w.link) ?? '/standing';
}
