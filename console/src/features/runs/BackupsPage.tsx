import { useInfiniteQuery } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';
import { useFilters } from '../../shared/data/filters';
import { pages } from '../../shared/data/lists';
import { size } from '../../shared/time';
import { Listing } from '../../shared/ui/Listing';
import { Go, PageTitle, Time } from '../../shared/ui/parts';
import { t } from './texts';

const backups = (limit: number) =>
  pages(['backups', limit], (cursor) =>
    unwrap(client.GET('/api/v1/backups', { params: { query: { cursor, limit } } })),
  );

/** Every backup that a run took, with how it was proven. */
export default function BackupsPage() {
  const filters = useFilters({});
  const all = useInfiniteQuery(backups(filters.size));
  return (
    <>
      <PageTitle title={t.backups.title} note={t.backups.note} />
      <Listing of={all} filters={filters} label={t.backups.title} heads={t.backups.heads} none={t.backups.none}>
        {(b) => (
          <tr key={b.name}>
            <td style={{ overflowWrap: 'anywhere' }}>{b.name}</td>
            <td>{b.site}</td>
            <td>
              <Go to={`/runs/${b.run}`}>{b.run}</Go>
            </td>
            <td>
              <Time at={b.at} />
            </td>
            <td>{b.rows.toLocaleString('en-GB')}</td>
            <td>{size(b.bytes)}</td>
            <td>{b.proof}</td>
          </tr>
        )}
      </Listing>
    </>
  );
}
