import { PageTitle } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { Applications } from './parts/Applications';
import { t } from './texts';

/** What is versioned and promoted as a unit. */
export default function ApplicationsPage() {
  return (
    <>
      <PageTitle title={t.applicationsTitle} note={t.applicationsNote} />
      <SetupParts />
      <Applications />
    </>
  );
}
