import { useQuery } from '@tanstack/react-query';
import { between, duration } from '../../shared/time';
import { Empty, Go, Loading, PageTitle, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { runs } from './api';

export default function RunsPage() {
  const all = useQuery(runs());
  return (
    <>
      <PageTitle title="Runs" />
      <Problem error={all.error} />
      {!all.data ? (
        <Loading what="runs" />
      ) : all.data.length === 0 ? (
        <Empty>Nothing ran yet. A run begins from an agreed promotion.</Empty>
      ) : (
        <Rows label="Runs" heads={['Run', 'Version', 'At', 'Result', 'Started', 'Took', 'By', 'Backup']}>
          {all.data.map((r) => (
            <tr key={r.number}>
              <td>
                <Go to={`/runs/${r.number}`}>{r.number}</Go>
              </td>
              <td>
                {r.application} {r.before ? `${r.before} to ` : ''}
                {r.version}
                {r.rollback ? ' (going back)' : ''}
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
              <td>{r.backup?.proof ?? 'none'}</td>
            </tr>
          ))}
        </Rows>
      )}
    </>
  );
}
