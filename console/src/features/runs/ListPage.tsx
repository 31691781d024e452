import { useInfiniteQuery } from '@tanstack/react-query';
import { useFilters } from '../../shared/data/filters';
import { about } from '../../shared/purpose';
import { between, duration } from '../../shared/time';
import { ByApplication, ByStage, Listing, Narrow } from '../../shared/ui/Listing';
import { Go, PageTitle, State, Time } from '../../shared/ui/parts';
import { runs } from './api';
import { t } from './texts';

export default function RunsPage() {
  const filters = useFilters({ state: '', application: '', stage: '' });
  const all = useInfiniteQuery(runs(filters.values, filters.size));
  return (
    <>
      <PageTitle title={t.listPage.runs}>
        <Go to="/backups">{t.backups.title}</Go>
        <Narrow of={filters} name="state" label={t.listPage.result} choices={t.listPage.states} />
        <ByApplication of={filters} />
        <ByStage of={filters} />
      </PageTitle>
      <Listing
        of={all}
        filters={filters}
        label={t.listPage.runs}
        heads={t.listPage.heads}
        none={t.listPage.nothingRanYetARun}
      >
        {(r) => (
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
        )}
      </Listing>
    </>
  );
}
