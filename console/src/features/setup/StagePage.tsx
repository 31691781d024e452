import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { CallOrder } from '../../shared/news/CallOrder';
import { Changes } from '../../shared/ui/Changes';
import { Loading, PageTitle, Problem } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { stages } from './api';
import { StagePanel } from './parts/StagePanel';
import { t } from './texts';

/** One stage: its sites and connections, what it asks for, who changed it. */
export default function StagePage() {
  const { key = '' } = useParams();
  const all = useQuery(stages());
  const stage = all.data?.find((s) => s.key === key);
  return (
    <>
      <PageTitle title={t.stageTitle(stage?.name ?? key)} note={key} />
      <SetupParts />
      <Problem error={all.error} />
      {!all.data ? (
        <Loading what={key} />
      ) : stage ? (
        <>
          <StagePanel s={stage} />
          <CallOrder stage={key} />
          <Changes of={`stage/${key}`} />
        </>
      ) : (
        !all.isFetching && <Problem error={t.noStage(key)} />
      )}
    </>
  );
}
