import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { applications, paths } from '../../shared/data/lists';
import { Changes } from '../../shared/ui/Changes';
import { Facts, Go, Loading, PageTitle, Panel, Problem } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { stages } from './api';
import { LegGates } from './parts/LegGates';
import { PathForm } from './parts/PathForm';
import { t } from './texts';

/** One path: where it goes, which applications travel it, who changed it. */
export default function PathPage() {
  const { key = '' } = useParams();
  const all = useQuery(paths());
  const places = useQuery(stages());
  const apps = useQuery(applications());
  const path = all.data?.find((p) => p.key === key);
  const travels = (apps.data ?? []).filter((a) => a.paths.includes(key));
  return (
    <>
      <PageTitle title={t.onePath(path?.name ?? key)} note={key} />
      <SetupParts />
      <Problem error={all.error} />
      {!all.data ? (
        !all.error && <Loading what={key} />
      ) : path ? (
        <Panel>
          <Facts
            list={[
              [t.label.source, path.source ?? t.paths.packages],
              [t.label.legs, path.legs.map((l) => l.stage).join(t.paths.then)],
              [
                t.applicationsTitle,
                travels.length === 0
                  ? t.paths.nobody
                  : travels.map((a, n) => (
                      <span key={a.key}>
                        {n > 0 && ', '}
                        <Go to={`/applications/${a.key}`}>{a.name}</Go>
                      </span>
                    )),
              ],
            ]}
          />
          <PathForm key={path.revision} stages={places.data ?? []} old={path} />
        </Panel>
      ) : (
        <Problem error={t.noSuchPath(key)} />
      )}
      {path?.legs.map((leg) => (
        <LegGates
          key={leg.stage + path.revision}
          path={path}
          leg={leg}
          stage={places.data?.find((s) => s.key === leg.stage)}
        />
      ))}
      <Changes of={`path/${key}`} />
    </>
  );
}
