/** What finding says. */
export const t = {
  title: 'Find',
  label: 'Name or number',
  hint: 'fares, fares@2.6, P-15, R-3, D-1, a person',
  nothing: 'Nothing that you may see is called so.',
  results: 'What was found',
  sorts: {
    application: (owner: string) => `application · ${owner}`,
    version: 'version',
    promotion: 'promotion',
    run: 'run',
    draft: 'draft',
    release: 'release',
    person: 'person',
  },
};
