import { Box, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { itemsOf } from '../../shared/data/lists';
import { Act, Empty, Go, Loading, More, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { news, seen } from '../../shared/news/api';
import { Calls } from '../../shared/news/Calls';
import { t } from '../../shared/news/texts';

function useAgain() {
  const queries = useQueryClient();
  return () => void queries.invalidateQueries({ queryKey: ['news'] });
}

/** What one follows, and whom something wrong waits for. */
export default function NewsPage() {
  const again = useAgain();
  const all = useInfiniteQuery(news());
  const saw = useMutation({ mutationFn: seen, onSettled: again });
  const items = itemsOf(all.data);
  const fresh = (items ?? []).filter((n) => n.fresh);
  const newest = items?.[0]?.entry ?? 0;
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <Calls />
      <Panel>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mb: 1 }}>
          <Act
            kind="outlined"
            why={fresh.length === 0 ? t.nothingNew : undefined}
            busy={saw.isPending}
            onClick={() => saw.mutate(newest)}
          >
            {t.seen}
          </Act>
          <Go to="/you">{t.change}</Go>
        </Box>
        <Problem error={all.error ?? saw.error} />
        {!items ? (
          <Loading what={t.title} />
        ) : items.length === 0 ? (
          <Empty>{t.none}</Empty>
        ) : (
          <>
            <Rows label={t.title} heads={t.heads}>
              {items.map((n) => (
                <tr key={n.entry}>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    <Time at={n.at} />
                    {n.fresh && (
                      <Typography variant="caption" component="div" sx={{ fontWeight: 650 }}>
                        {t.fresh}
                      </Typography>
                    )}
                  </td>
                  <td>
                    {n.run || n.promotion ? (
                      <Go to={n.run ? `/runs/${n.run}` : `/promotions/${n.promotion}`}>{n.event}</Go>
                    ) : (
                      n.event
                    )}
                  </td>
                  <td>{[n.application, n.version].filter(Boolean).join(' ')}</td>
                  <td>{[n.stage, n.site].filter(Boolean).join('/')}</td>
                  <td>{n.actor}</td>
                  <td style={{ minWidth: 180, overflowWrap: 'anywhere' }}>{n.text}</td>
                </tr>
              ))}
            </Rows>
            <More of={all} />
          </>
        )}
      </Panel>
    </>
  );
}
