import { useQuery } from '@tanstack/react-query';
import { keys, paths, roles } from '../../shared/data/lists';
import { Go, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { SETUP_PARTS, SetupParts } from '../../shared/ui/SetupParts';
import { applications, stages } from './api';
import { t } from './texts';

/** What there is of each part of the set-up, in the order in which it is done, and what comes next. */
export default function SetupPage() {
  const places = useQuery(stages());
  const laid = useQuery(paths());
  const apps = useQuery(applications());
  const named = useQuery(roles());
  const signing = useQuery(keys());
  const known = (of: { data?: unknown[]; error: unknown }): string =>
    of.error ? t.page.notYours : of.data ? of.data.length.toLocaleString('en-GB') : '…';
  const sites = places.data?.flatMap((s) => s.sites).length;
  const counts: Record<string, string> = {
    '/setup/stages': places.data ? t.page.stagesAndSites(places.data.length, sites ?? 0) : known(places),
    '/setup/paths': known(laid),
    '/setup/applications': known(apps),
    '/setup/roles': known(named),
    '/setup/keys': known(signing),
  };
  const next = !places.data?.length
    ? t.page.next.stage
    : !sites
      ? t.page.next.site
      : laid.data?.length === 0
        ? t.page.next.path
        : apps.data?.length === 0
          ? t.page.next.application
          : undefined;
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <SetupParts />
      <Problem error={places.error} />
      <Panel>
        {next && places.data && laid.data && apps.data && <p style={{ marginTop: 0 }}>{next}</p>}
        <Rows label={t.title} heads={t.page.heads}>
          {SETUP_PARTS.map(([to, name], n) => (
            <tr key={to}>
              <td>{n + 1}</td>
              <td>
                <Go to={to}>{name}</Go>
              </td>
              <td>{counts[to]}</td>
              <td>{t.page.what[to]}</td>
            </tr>
          ))}
        </Rows>
      </Panel>
    </>
  );
}
