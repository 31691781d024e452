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
  between: {
    title: (application: string, site: string) => `What changed of ${application} at ${site}`,
    note: 'Between two days. What people changed there by hand and nobody looked at is in no record.',
    link: (site: string) => `What changed at ${site} between two days`,
    from: 'First day',
    until: 'Last day',
    choose: 'Choose the first and the last day.',
    save: (form: string) => `Save as ${form}`,
  },
  saved: {
    title: 'Save the history',
    hint: 'As a file that is checked without this service: plenzo history verify --saved FILE --head FILE. It goes on to the newest entry, so that a head that was kept elsewhere proves it.',
    evidence: 'With records of promotions and files of evidence',
    save: 'Save it from that day on',
  },
  band: {
    versionsAt: (site: string) => `Versions at ${site}`,
    oldestLeftWidthsAreNot: (site: string) => `${site}, oldest left; widths are not to scale`,
    by: (full: string, by: string) => `${full} by ${by}`,
  },
  page: {
    history: 'History',
    what: 'What',
    site: 'Site',
    says: 'Says',
    who: 'Who',
    nothingHappenedYetThatYou: 'Nothing happened yet that you may see.',
    historyNewestFirst: 'History, newest first',
    heads: ['When', 'Who', 'What', 'Version', 'Where', 'Details'],
  },
};
