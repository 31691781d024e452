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
  dependsOnChoice: 'what would be lost depends on what you choose',
  bringIn: {
    title: 'Bring in again what was saved',
    hint: 'A file of what an earlier way back lost, as it was saved here. Take lines out of it for rows that are to stay away. It becomes a plan with comparison, gates and a backup; what does not fit is named.',
    file: 'Saved file',
    choose: 'Choose the file.',
    act: 'Prepare the plan',
    opened: (promotion: string) => `${promotion} is prepared`,
  },
  stage: {
    title: (application: string, stage: string) => `Go back together: ${application} in ${stage}`,
    working: (stage: string) => `the ways back of every site of ${stage}; each is being compared`,
    leaves: (version: string) => `Every site that ${version} came to goes back; the others stay as they are.`,
    leavesNothing: 'No site of this stage has a version.',
    sites: 'Sites',
    site: 'Site',
    has: 'Has now',
    stays: 'stays as it is',
    choicesAtTheSite: 'What is in the way at a site is chosen about on its own page, and it goes back from there.',
    covered: 'Covered at every site: it starts at once.',
    notCovered: 'Not covered everywhere: what is not becomes a plan that waits for approval.',
    plan: 'Plans of all sites',
    goBackAt: (application: string, sites: string) => `Put ${application} back at ${sites}`,
    started: 'What came of it',
    what: 'What',
    runs: (run: string) => `${run} runs`,
    waits: (gates: string) => `waits for: ${gates}`,
    elsewhere: 'At other sites too',
    toEverySite: (version: string, stage: string) => `Go back at every site of ${stage} that ${version} came to`,
  },
  page: {
    giveTheEarlierValues: 'Give the earlier values again',
    giveBack: (site: string) => `Give ${site} its earlier values`,
    stays: (version: string | undefined, run: string | undefined) =>
      `${version} stays; the host has the values again that it had before ${run}. `,
    theRunThatGave: (run: string) => `The run that gave the present ones, ${run}`,
    reApplyTheEarlierVersion: 'Re-apply the earlier version',
    restoreTheBackup: 'Restore the backup',
    theWaysBackIsBeing: (where: string) => `the ways back; ${where} is being compared with each`,
    goBackIn: (application: string, stage: string) => `Go back: ${application} in ${stage}`,
    nothing: 'nothing',
    holds: (where: string, what: string) => `${where} holds ${what}`,
    thereIsNoWayBack: 'There is no way back that Plenzo can take',
    chooseAWay: 'Choose a way.',
    sayWhy: 'Say why.',
    typeToConfirm: (application: string) => `Type ${application} to confirm.`,
    waysBack: 'Ways back',
    confirm: 'Confirm',
    whyDoYouGoBack: 'Why do you go back?',
    confirmLabel: (application: string) => `Type ${application} to confirm`,
    keepThingsAsTheyAre: 'Keep things as they are',
    fromTheBackupOf: (run: string | undefined) => ` from the backup of ${run}`,
    putBackTo: (application: string, version: string | undefined, what: string) =>
      `Put ${application} back to ${version}${what}`,
    goBack: 'Go back',
    coveredByTheApprovalsOf: (coveredBy: string) => `Covered by the approvals of ${coveredBy}: it starts at once.`,
    notCoveredByEarlierApprovals: 'Not covered by earlier approvals: it becomes a plan that waits for approval.',
    beingWorkedOut: 'The ways are being worked out with your choice.',
    closedUntilChosen: (why: string) => `Closed until you choose below: ${why}`,
    cannotBeUsed: (why: string) => `Cannot be used: ${why}`,
    lossCantBeKnown: "Loss can't be known",
    losesNothing: 'Loses nothing',
    rowOrValue: 'row or value',
    rowsOrValues: 'rows or values',
    loses: (many: string) => `Loses ${many}`,
    changedBackRemovedPutBack: (changed: number, removed: number, added: number, what: number) =>
      `${removed} removed, ${changed} changed back, ${added} put back, ${what} kept. `,
    touched: (removed: number, changed: number, added: number) =>
      [
        [removed, 'removed'],
        [changed, 'changed back'],
        [added, 'put back'],
      ]
        .filter(([n]) => n)
        .map(([n, what]) => `${n} ${what}`)
        .join(', '),
    whatItWrites: 'What it writes',
    andMore: (others: number) => `and ${others} more`,
    writes: (to: string[]) =>
      to.length === 0
        ? 'Writes nothing. Plan '
        : to.length === 1
          ? `Writes the ${to[0]} alone. Plan `
          : `Writes ${to.join(', ')}. Plan `,
    theRunThatTookIt: (run: string) => `The run that took it, ${run}`,
  },
};
