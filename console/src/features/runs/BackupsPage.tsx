import { useInfiniteQuery } from '@tanstack/react-query';
import { size } from '../../shared/time';
import { client, unwrap } from '../../shared/data/api';
import { itemsOf, pages } from '../../shared/data/lists';
import { Empty, Go, Loading, More, PageTitle, Problem, Rows, Time } from '../../shared/ui/parts';
import { t } from './texts';

const backups = () =>
  pages(['backups'], (cursor) => unwrap(client.GET('/api/v1/backups', { params: { query: { cursor } } })));

/** Every backup that a run took, with how it was proven. */
export default function BackupsPage() {
  const all = useInfiniteQuery(backups());
  const items = itemsOf(all.data);
  return (
    <>
      <PageTitle title={t.backups.title} note={t.backups.note} />
      <Problem error={all.error} />
      {!items ? (
        !all.error && <Loading what={t.backups.title} />
      ) : items.length === 0 ? (
        <Empty>{t.backups.none}</Empty>
      ) : (
        <>
          <Rows label={t.backups.title} heads={t.backups.heads}>
            {items.map((b) => (
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
            ))}
          </Rows>
          <More of={all} />
        </>
      )}
    </>
  );
}
