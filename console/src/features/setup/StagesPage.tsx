import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { Empty, Go, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { stages } from './api';
import { NewStage } from './parts/NewStage';
import { t } from './texts';

/** Every stage with its sites, in their order. */
export default function StagesPage() {
  const all = useQuery(stages());
  const navigate = useNavigate();
  return (
    <>
      <PageTitle title={t.stagesTitle} note={t.stagesNote} />
      <SetupParts />
      <Problem error={all.error} />
      <Panel>
        {!all.data ? (
          <Loading what={t.page.stages} />
        ) : all.data.length === 0 ? (
          <Empty>{t.none}</Empty>
        ) : (
          <Rows label={t.stagesTitle} heads={t.stageHeads}>
            {all.data.map((s) => (
              <tr key={s.key}>
                <td>
                  <Go to={`/setup/stages/${s.key}`}>{s.name}</Go>
                </td>
                <td>{s.role}</td>
                <td>{s.role === 'development' ? t.source : t.facts(s)}</td>
                <td>
                  {s.sites.length === 0
                    ? t.noSite
                    : s.sites.map((x) => `${s.key}/${x.key}: ${x.targets.map((g) => g.key).join(', ')}`).join('; ')}
                </td>
              </tr>
            ))}
          </Rows>
        )}
      </Panel>
      <NewStage
        next={(all.data ?? []).reduce((n, s) => Math.max(n, s.position + 1), 0)}
        after={(key) => navigate(`/setup/stages/${key}`)}
      />
    </>
  );
}
