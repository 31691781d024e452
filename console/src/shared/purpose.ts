/** What a plan or run is about, behind its version: nothing where a version comes. */
const behind: Record<string, string> = {
  'earlier-values': ' (values back)',
  'earlier-version': ' (going back)',
  backup: ' (going back)',
  'put-back': ' (putting back)',
  values: ' (values only)',
};

export const about = (purpose: string) => behind[purpose] ?? '';

const inTitle: Record<string, string> = {
  'earlier-values': 'with its earlier values in',
  'earlier-version': 'back to',
  backup: 'back to',
  'put-back': 'put back in',
  values: 'values into',
};

/** "fares 2.6.1 into Production", "fares 2.6.1 put back in Production". */
export const titled = (g: { application: string; version: string; purpose: string; stageName: string }) =>
  `${g.application} ${g.version} ${inTitle[g.purpose] ?? 'into'} ${g.stageName}`;

export const goesBack = (purpose: string) => ['earlier-values', 'earlier-version', 'backup'].includes(purpose);
