import { useQuery } from '@tanstack/react-query';
import { between, duration } from '../../shared/time';
import { Empty, Go, Loading, PageTitle, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { runs } from './api';
import { t } from './texts';

export default function RunsPage() {
  const all = useQuery(runs());
  return (
    <>
      <PageTitle title={t.listPage.runs} />
      <Problem error={all.error} />
      {!all.data ? (
        <Loading what={t.listPage.theRuns} />
      ) : all.data.length === 0 ? (
        <Empty>{t.listPage.nothingRanYetARun}</Empty>
      ) : (
        <Rows label={t.listPage.runs} heads={t.listPage.heads}>
          {all.data.map((r) => (
            <tr key={r.number}>
              <td>
                <Go to={`/runs/${r.number}`}>{r.number}</Go>
              </td>
              <td>
                {r.goal.application} {r.goal.before ? t.listPage.to(r.goal.before) : ''}
                {r.goal.version}
                {r.goal.rollback ? t.listPage.goingBack : ''}
              </td>
              <td>{r.goal.production ? <b>{r.goal.site}</b> : r.goal.site}</td>
              <td>
                <State word={r.state} />
              </td>
              <td>
                <Time at={r.times.startedAt ?? r.times.queuedAt} />
              </td>
              <td>{r.times.startedAt ? duration(between(r.times.startedAt, r.times.endedAt)) : ''}</td>
              <td>{r.startedBy}</td>
              <td>{r.backup?.proof ?? t.listPage.none}</td>
            </tr>
          ))}
        </Rows>
      )}
    </>
  );
}
