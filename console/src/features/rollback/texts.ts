/** What the page of ways back says. */
export const t = {
  goTo: 'Go back to',
  lastGood: 'the last good version',
  save: 'Save what is lost to a file first',
  lossesOf: (way: string) => `What is lost: ${way}`,
  lossHeads: ['Where', 'What', 'How much'],
  tookBackup: (run: string) => `${run} took its backup`,
  writtenSince: (n: number) =>
    `up to ${n === 1 ? '1 row or value' : `${n.toLocaleString('en-GB')} rows or values`} written since`,
  nothingSince: 'nothing written since that would be lost',
  now: 'now',
};
