import { plural } from '../../shared/time';

/** Every sentence about whether the past is as it was. */
export const t = {
  title: 'Is the past as it was?',
  verify: 'Check the whole history',
  save: 'Save its head, signed',
  saveHint: 'Kept elsewhere, a head shows later whether anybody edited what was before it.',
  given: 'A head that was saved before (a file)',
  whole: (entries: number) => `${plural(entries, 'entry', 'entries')}, unbroken.`,
  verifying: 'Checking the history',
  soFar: (checked: number, of: number) =>
    `${checked.toLocaleString('en-GB')} of ${plural(of, 'entry', 'entries')} checked.`,
  broken: (entry: number) => `Entry ${entry} was altered.`,
  noAnchors: 'No head was found outside the records: a tail that was cut off would not be noticed.',
  anchors: (holds: number, all: number) =>
    `${holds} of ${plural(all, 'head', 'heads')} kept in targets, packages and files hold.`,
  entry: (n: number) => `entry ${n}`,
  silent: 'Not asked',
  head: 'Head',
  band: {
    versionsAt: (site: string) => `Versions at ${site}`,
    oldestLeftWidthsAreNot: (site: string) => `${site}, oldest left; widths are not to scale`,
    by: (full: string, by: string) => `${full} by ${by}`,
  },
  page: {
    history: 'History',
    what: 'What',
    says: 'Says',
    who: 'Who',
    nothingHappenedYetThatYou: 'Nothing happened yet that you may see.',
    historyNewestFirst: 'History, newest first',
    heads: ['When', 'Who', 'What', 'Version', 'Where', 'Details'],
  },
};
