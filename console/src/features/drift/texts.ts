import { plural } from '../../shared/time';

const parts = (n: number) => plural(n, 'part or row', 'parts or rows');

/** What the page of a site's drift says. */
export const t = {
  title: (application: string, site: string) => `What differs in ${application} at ${site}`,
  recorded: (version: string) => `${version} is recorded there.`,
  looking: (where: string) => `What differs at ${where}`,
  looked: 'Looked',
  rowsLooked: 'Rows looked at',
  notLooked: 'not yet',
  ask: 'Ask',
  differs: 'Differs',
  nothing: 'Nothing that Plenzo looked at differs from what is recorded.',
  nobodyLooked: 'Nobody has looked yet.',
  notReachable: 'The site is not reachable now: this is what was found before.',
  look: 'Look now',
  csv: 'Save all of it as CSV',
  json: 'Save all of it as JSON',
  unlisted: (n: number) =>
    `${plural(n, 'more was', 'more were')} counted and ${n === 1 ? 'is' : 'are'} not listed: settle by component, and look again.`,
  how: { changed: 'changed', gone: 'gone', 'only-there': 'only there' } as Record<string, string>,
  counts: (g: { changed: number; gone: number; onlyThere: number }) =>
    [
      g.changed > 0 ? `${g.changed} changed` : '',
      g.gone > 0 ? `${g.gone} gone` : '',
      g.onlyThere > 0 ? `${g.onlyThere} only there` : '',
    ]
      .filter(Boolean)
      .join(', '),
  lastRun: 'last written by',
  author: (who: string) => `last changed there by ${who}`,
  heads: ['Recorded', 'There'] as [string, string],
  since: 'known since',
  settled: { kept: 'kept on purpose', left: 'left for a time' } as Record<string, string>,
  hidden: 'you may not see values',
  all: (component: string) => `All that is recorded of ${component}`,
  one: (place: string) => `Choose ${place}`,
  settle: 'Settle it',
  chosen: (n: number) =>
    n === 0
      ? 'Nothing is chosen: putting back means all that changed or is gone, but for what was kept or left on purpose.'
      : `${parts(n)} chosen.`,
  putBackAll: 'Put back all that is recorded',
  putBack: (back: number, away: number) =>
    back === 0 ? `Take away ${away}` : away === 0 ? `Put back ${back}` : `Put back ${back}, take away ${away}`,
  putBackHint:
    'Opens a plan with comparison, gates and a backup; nothing is written before it runs. What is only there stays, unless it is chosen.',
  nothingRecorded: 'All that is recorded is there, or was kept or left on purpose: choose what is put back.',
  take: 'Take into a draft',
  takeHint: 'Begins a draft from what is recorded, with the components as they are there.',
  chooseFirst: 'Choose what.',
  leave: 'Leave as it is',
  leaveHint: 'It counts as no drift until the day is over, and is shown further on.',
  reason: 'Why it stays',
  until: 'Until',
  sayWhy: 'Say why and until when.',
  leftTitle: 'Left for a time',
  leftHeads: ['Place', 'Until', 'By', 'Why', ''],
  over: {
    title: 'Left over of earlier runs',
    look: 'Look what is left over',
    hint: 'What Plenzo put beside the content and nothing needs any more, and what of the content was kept on purpose.',
    nothing: 'Nothing is left over that Plenzo knows of.',
    heads: ['What', 'Where', 'Left by', 'Size', ''],
    kept: 'in the content',
    clear: 'Clear it',
    clearOne: (name: string) => `Clear ${name}`,
    sure: (name: string) => `Remove ${name} for good?`,
    sureKept: (name: string) => `Keep ${name} no more? It counts as drift from then on.`,
    untold: 'not told',
    bytes: (n: number) => (n < 1_000_000 ? `${Math.ceil(n / 1000)} kB` : `${Math.ceil(n / 1_000_000)} MB`),
  },
  compareLink: 'Compare with another site or version',
  beside: {
    title: (application: string, site: string) => `${application} at ${site} beside another`,
    note: 'Read now, and not kept. Rows are compared that a version recorded at either site carries.',
    with: 'Held against',
    day: 'Or what was recorded there on',
    working: (site: string, other: string) => `The comparison of ${site} with ${other}`,
    nothing: 'Nothing that Plenzo compares differs.',
    differ: (all: number, shown: number) =>
      shown < all
        ? `${parts(all)} differ; the first ${shown} are shown.`
        : `${parts(all)} ${all === 1 ? 'differs' : 'differ'}.`,
  },
  noMore: 'Leave it no more',
  leaveNoMore: (place: string) => `Leave it no more: ${place}`,
};
