import { useInfiniteQuery } from '@tanstack/react-query';
import { client, unwrap } from '../data/api';
import { pages } from '../data/lists';
import { Listing } from './Listing';
import { Panel, Time } from './parts';
import { t } from './texts';

/** Fewer than a list shows: a page about a thing shows more than its past. */
const FEW = 20;

/** Who changed something of the set-up, when, from what to what. */
export function Changes({ of }: { of: string }) {
  const all = useInfiniteQuery(
    pages(['history', 'of', of], (cursor) =>
      unwrap(client.GET('/api/v1/history', { params: { query: { of, cursor, limit: FEW } } })),
    ),
  );
  return (
    <Panel title={t.changes.title}>
      <Listing of={all} label={t.changes.title} heads={t.changes.heads} none={t.changes.none}>
        {(e) => (
          <tr key={e.sequence}>
            <td style={{ whiteSpace: 'nowrap' }}>
              <Time at={e.at} />
            </td>
            <td>{e.actor}</td>
            <td style={{ fontWeight: 600 }}>{e.event}</td>
            <td style={{ overflowWrap: 'anywhere' }}>{e.text}</td>
          </tr>
        )}
      </Listing>
    </Panel>
  );
}
