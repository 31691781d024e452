import { useInfiniteQuery } from '@tanstack/react-query';
import { between, duration } from '../../shared/time';
import { Empty, Go, Loading, More, PageTitle, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { runs } from './api';
import { about } from '../../shared/purpose';
import { t } from './texts';
import { itemsOf } from '../../shared/data/lists';

export default function RunsPage() {
  const all = useInfiniteQuery(runs());
  const items = itemsOf(all.data);
  return (
    <>
      <PageTitle title={t.listPage.runs}>
        <Go to="/backups">{t.backups.title}</Go>
      </PageTitle>
      <Problem error={all.error} />
      {!items ? (
        <Loading what={t.listPage.theRuns} />
      ) : items.length === 0 ? (
        <Empty>{t.listPage.nothingRanYetARun}</Empty>
      ) : (
        <>
          <Rows label={t.listPage.runs} heads={t.listPage.heads}>
            {items.map((r) => (
              <tr key={r.number}>
                <td>
                  <Go to={`/runs/${r.number}`}>{r.number}</Go>
                </td>
                <td>
                  {r.application} {r.before ? t.listPage.to(r.before) : ''}
                  {r.version}
                  {about(r.purpose)}
                </td>
                <td>{r.production ? <b>{r.site}</b> : r.site}</td>
                <td>
                  <State word={r.state} />
                </td>
                <td>
                  <Time at={r.startedAt ?? r.queuedAt} />
                </td>
                <td>{r.startedAt ? duration(between(r.startedAt, r.endedAt)) : ''}</td>
                <td>{r.startedBy}</td>
                <td>{r.proof ?? t.listPage.none}</td>
              </tr>
            ))}
          </Rows>
          <More of={all} />
        </>
      )}
    </>
  );
}
