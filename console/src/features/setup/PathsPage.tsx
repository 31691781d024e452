import { useQuery } from '@tanstack/react-query';
import { paths } from '../../shared/data/lists';
import { Empty, Go, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { stages } from './api';
import { PathForm } from './parts/PathForm';
import { t } from './texts';

/** The ways that versions travel. */
export default function PathsPage() {
  const all = useQuery(paths());
  const places = useQuery(stages());
  return (
    <>
      <PageTitle title={t.pathTitle} note={t.pathHint} />
      <SetupParts />
      <Problem error={all.error} />
      <Panel>
        {!all.data ? (
          !all.error && <Loading what={t.pathTitle} />
        ) : all.data.length === 0 ? (
          <Empty>{t.noPath}</Empty>
        ) : (
          <Rows label={t.pathTitle} heads={[t.label.key, t.label.name, t.label.source, t.label.legs]}>
            {all.data.map((p) => (
              <tr key={p.key}>
                <td>
                  <Go to={`/setup/paths/${p.key}`}>{p.key}</Go>
                </td>
                <td>{p.name}</td>
                <td>{p.source ?? t.paths.packages}</td>
                <td>{p.legs.map((l) => l.stage).join(t.paths.then)}</td>
              </tr>
            ))}
          </Rows>
        )}
        <PathForm stages={places.data ?? []} />
      </Panel>
    </>
  );
}
