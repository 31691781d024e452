import { useQuery } from '@tanstack/react-query';
import { Empty, Go, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { applications } from './api';
import { t } from './texts';

/** Where the values that differ by stage are set: beside the application that declares them. */
export default function ValuesPage() {
  const all = useQuery(applications());
  return (
    <>
      <PageTitle title={t.values.title} note={t.values.note} />
      <SetupParts />
      <Problem error={all.error} />
      <Panel>
        {!all.data ? (
          !all.error && <Loading what={t.values.title} />
        ) : all.data.length === 0 ? (
          <Empty>{t.noApplications}</Empty>
        ) : (
          <Rows label={t.values.title} heads={t.values.heads}>
            {all.data.map((a) => (
              <tr key={a.key}>
                <td>
                  <Go to={`/applications/${a.key}#values`}>{t.values.of(a.name)}</Go>
                </td>
                <td>
                  <Go to={`/history?application=${a.key}&event=binding+set`}>{t.values.set}</Go>
                </td>
              </tr>
            ))}
          </Rows>
        )}
      </Panel>
    </>
  );
}
