import { TextField } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { itemsOf, pages } from '../../shared/data/lists';
import { Empty, Loading, More, PageTitle, Problem, Rows, Time } from '../../shared/ui/parts';
import { t } from './texts';

/** The end of a day where the reader is: what was there then. */
const endOf = (day: string) => new Date(`${day}T23:59:59`).toISOString();

const past = (day: string) => ({
  ...pages(['standing', 'past', day], (cursor) =>
    unwrap(client.GET('/api/v1/standing/past', { params: { query: { at: endOf(day), cursor } } })),
  ),
  enabled: day !== '',
});

/** Which version stood where at the end of a past day. */
export default function PastPage() {
  const [params, setParams] = useSearchParams();
  const day = params.get('day') ?? '';
  const all = useInfiniteQuery(past(day));
  const items = itemsOf(all.data);
  return (
    <>
      <PageTitle title={t.past.title} note={t.past.note} />
      <TextField
        type="date"
        size="small"
        label={t.past.day}
        value={day}
        onChange={(e) => setParams(e.target.value ? { day: e.target.value } : {}, { replace: true })}
        slotProps={{ inputLabel: { shrink: true } }}
        sx={{ mb: 2 }}
      />
      <Problem error={all.error} />
      {day === '' ? (
        <Empty>{t.past.choose}</Empty>
      ) : !items ? (
        !all.error && <Loading what={t.past.title} />
      ) : items.length === 0 ? (
        <Empty>{t.past.none}</Empty>
      ) : (
        <>
          <Rows label={t.past.title} heads={t.past.heads}>
            {items.map((p) => (
              <tr key={`${p.application} ${p.site}`}>
                <td style={{ fontWeight: 600 }}>{p.application}</td>
                <td>{p.site}</td>
                <td>{p.version}</td>
                <td>{t.past.how[p.how] ?? p.how}</td>
                <td>
                  <Time at={p.since} />
                </td>
              </tr>
            ))}
          </Rows>
          <More of={all} />
        </>
      )}
    </>
  );
}
