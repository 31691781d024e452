import { useQuery } from '@tanstack/react-query';
import { Empty, Loading, PageTitle, Problem } from '../../shared/ui/parts';
import { stages } from './api';
import { Applications } from './parts/Applications';
import { Paths } from './parts/Paths';
import { NewStage } from './parts/NewStage';
import { StagePanel } from './parts/StagePanel';
import { t } from './texts';

/** Set-up in the order in which it is done: stages, their sites and connections, paths, applications. */
export default function StagesPage() {
  const all = useQuery(stages());
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <Problem error={all.error} />
      {!all.data ? (
        <Loading what={t.page.stages} />
      ) : all.data.length === 0 ? (
        <Empty>{t.none}</Empty>
      ) : (
        all.data.map((s) => <StagePanel key={s.key} s={s} />)
      )}
      <NewStage next={(all.data ?? []).reduce((n, s) => Math.max(n, s.position + 1), 0)} />
      <Paths stages={all.data ?? []} />
      <Applications />
    </>
  );
}
