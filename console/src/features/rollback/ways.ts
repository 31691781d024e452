import { t } from './texts';

/** What each way back is called. */
export const ways: Record<string, string> = {
  'earlier-values': t.page.giveTheEarlierValues,
  'earlier-version': t.page.reApplyTheEarlierVersion,
  backup: t.page.restoreTheBackup,
};
