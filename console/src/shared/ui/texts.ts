/** What pages share. */
export const t = {
  parts: {
    next: 'Next:',
    request: (requestId: string) => `Request ${requestId}`,
    loading: (what: string) => `Loading ${what} …`,
    act: 'Act',
    noReturnLineOnceThe: "No-return line: once the first switch is sent, the run can't be aborted, only rolled back",
  },
  differences: {
    notThere: 'not there',
    null: 'null',
    empty: 'empty',
    whatDiffersIn: (one: string) => `What differs in ${one}`,
    attribute: 'Attribute',
    findIn: (difference: string) => `Find in ${difference}`,
    before: 'Before',
    rowsTo: (what: string, what2: string) => `rows ${what} to ${what2}`,
    next: 'Next',
    last: 'Last',
    rowsThatAre: (difference: string) => `Rows that are ${difference}`,
    rows: 'rows',
    rowsWith: (find: string) => `rows with “${find}”`,
    noRowContains: (find: string) => `No row contains “${find}”.`,
    onThisPage: (many: string) => `${many} on this page`,
    more: 'More',
    youMayNotSeeValues: '; you may not see values here',
  },
};
