import type { Schemas } from '../../shared/data/api';

type Cell = Schemas['StandingCell'];

/** The cells of a stage, in the order of its sites. */
export function cellsOf(line: Schemas['StandingLine'], stage: string): Cell[] {
  return line.cells.filter((c) => c.site.startsWith(`${stage}/`));
}

/** How many sites of a stage are in each condition that is not good, worst first. */
export function notGood(stage: Schemas['StageHead']): [string, number][] {
  const order = ['half written', 'judged bad', 'not reachable', 'drifted', 'to look at', 'rolled back'];
  return order.flatMap((c): [string, number][] => {
    const n = stage.conditions[c];
    return n ? [[c, n]] : [];
  });
}

/** Where an activity leads. */
export function linkOf(link?: string | null): string | null {
  if (!link) return null;
  if (link.startsWith('release ')) return `/releases/${link.slice(8)}`;
  return link.startsWith('P-') ? `/promotions/${link}` : link.startsWith('R-') ? `/runs/${link}` : null;
}

/** What waits and where to do it. */
export function waitingLink(w: Schemas['WaitingView']): string {
  const pages: Record<string, string> = {
    'ways-back': `/rollback/${w.application}/${w.site}`,
    drift: `/drift/${w.application}/${w.site}`,
    maintenance: `/applications/${w.application}`,
  };
  return pages[w.link] ?? linkOf(w.link) ?? '/standing';
}
