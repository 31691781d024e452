import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { stages } from '../../shared/data/lists';
import { Changes } from '../../shared/ui/Changes';
import { Go, PageTitle } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { Bindings } from './Bindings';
import { t } from './texts';

/** One input at a stage: what its sites are given, and who set that. */
export default function ValuePage() {
  const { application = '', stage = '', input = '' } = useParams();
  const sites = (useQuery(stages()).data ?? [])
    .filter((s) => s.key === stage)
    .flatMap((s) => s.sites.map((x) => `${stage}/${x.key}`));
  return (
    <>
      <PageTitle title={t.value(input, stage)} note={<Go to={`/applications/${application}`}>{application}</Go>} />
      <SetupParts />
      <Bindings application={application} sites={sites} only={input} />
      <Changes of={`value/${application}/${stage}/${input}`} />
    </>
  );
}
