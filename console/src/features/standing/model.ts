import type { Schemas } from '../../shared/data/api';

type Cell = Schemas['StandingCell'];

/** The cells of a stage, in the order of its sites. */
export function cellsOf(line: Schemas['StandingLine'], stage: string): Cell[] {
  return line.cells.filter((c) => c.site.startsWith(`${stage}/`));
}

/** Sites of a stage that stand alike, said once. */
export interface Group {
  sites: string[];
  cell: Cell;
  /** Since when, where that is the same minute for all of them. */
  since?: string | null;
}

/** Letters of a time down to its minute. */
const MINUTE = 16;

const CALM = ['good', 'never here'];

/** What is wrong at a site is always said of that site. */
const alike = (a: Cell, b: Cell) =>
  CALM.includes(a.condition) &&
  a.version === b.version &&
  a.condition === b.condition &&
  a.note === b.note &&
  a.judged === b.judged &&
  a.activityText === b.activityText &&
  a.link === b.link &&
  a.closedBy === b.closedBy &&
  a.yesOwed.length + b.yesOwed.length === 0 &&
  a.owes.join() === b.owes.join();

/** What stands alike is said once; the newest version first, so that it is read along the line. */
export function groupsOf(line: Schemas['StandingLine'], stage: string): Group[] {
  const groups: Group[] = [];
  for (const cell of cellsOf(line, stage)) {
    const site = cell.site.slice(stage.length + 1);
    const same = groups.find((g) => alike(g.cell, cell));
    if (!same) groups.push({ sites: [site], cell, since: cell.since });
    else {
      same.sites.push(site);
      if (same.since?.slice(0, MINUTE) !== cell.since?.slice(0, MINUTE)) same.since = undefined;
    }
  }
  return groups.sort((a, b) => Number(!a.cell.version) - Number(!b.cell.version) || a.cell.behind - b.cell.behind);
}

/** Whether a version is followed from one stage to the next: both have the same. */
export const joined = (here?: Group[], there?: Group[]): boolean =>
  Boolean(here?.[0]?.cell.version) && here?.[0]?.cell.version === there?.[0]?.cell.version;

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
  if (link.startsWith('W-')) return `/waves/${link}`;
  return link.startsWith('P-') ? `/promotions/${link}` : link.startsWith('R-') ? `/runs/${link}` : null;
}

/** What is to be done, with the number of what it is about; without one it is read out with where it is. */
export function waitingWords(w: Schemas['WaitingView']): { text: string; label?: string } {
  const what = w.what.charAt(0).toUpperCase() + w.what.slice(1);
  if (/^(P|W|CH|R)-|^release /.test(w.link)) return { text: `${what} ${w.link}` };
  return { text: what, label: `${what}: ${w.application} ${w.version}, ${w.site}` };
}

/** Where to do it. */
export function waitingLink(w: Schemas['WaitingView']): string {
  const pages: Record<string, string> = {
    'ways-back': `/rollback/${w.application}/${w.site}`,
    drift: `/drift/${w.application}/${w.site}`,
    maintenance: `/applications/${w.application}`,
  };
  if (w.link.startsWith('CH-')) return '/setup/proposals';
  return pages[w.link] ?? linkOf(w.link) ?? '/standing';
}
