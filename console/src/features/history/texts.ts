import { plural } from '../../shared/time';

/** Every sentence about whether the past is as it was. */
export const t = {
  title: 'Is the past as it was?',
  verify: 'Check the whole history',
  save: 'Save its head, signed',
  saveHint: 'Kept elsewhere, a head shows later whether anybody edited what was before it.',
  given: 'A head that was saved before (a file)',
  whole: (entries: number) => `${plural(entries, 'entry', 'entries')}, unbroken.`,
  broken: (entry: number) => `Entry ${entry} was altered.`,
  noAnchors: 'No head was found outside the records: a tail that was cut off would not be noticed.',
  anchors: (holds: number, all: number) =>
    `${holds} of ${plural(all, 'head', 'heads')} kept in targets, packages and files hold.`,
  entry: (n: number) => `entry ${n}`,
  silent: 'Not asked',
  head: 'Head',
};
