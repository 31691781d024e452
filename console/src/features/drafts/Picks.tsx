import { Button, Typography } from '@mui/material';
import { client, unwrap } from '../../shared/data/api';
import { Problem, Rows } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';
import { t } from './texts';

/** In the order in which they are written, once they were checked; what needs allow can be moved. */
export function Picks({ d }: { d: Draft }) {
  const move = useDraftAct(d.id, ({ component, before }: { component: string; before: string }) =>
    unwrap(client.POST('/api/v1/drafts/{id}/move', { params: { path: { id: d.id } }, body: { component, before } })),
  );
  const at = (key: string) => d.writing.order.indexOf(key);
  const picks = [...d.picks].sort((a, b) => at(a.key) - at(b.key));
  const movable = d.state === 'open' && !!d.checked.at && d.writing.order.length > 1;
  return (
    <>
      <Problem error={move.error} />
      <Rows label={t.picks.chosen} heads={[t.picks.order, t.picks.component, ...(movable ? [''] : [])]}>
        {picks.map((p, n) => (
          <tr key={p.key}>
            <td style={{ width: 56 }}>{at(p.key) < 0 ? '' : at(p.key) + 1}</td>
            <td style={{ overflowWrap: 'anywhere' }}>
              {p.key}
              <Typography variant="caption" component="div" color="textSecondary">
                {[p.reason, p.changes || (p.read ? '' : t.picks.notReadYet)].filter(Boolean).join('; ')}
              </Typography>
            </td>
            {movable && (
              <td>
                {n > 0 && at(p.key) > 0 && (
                  <Button
                    size="small"
                    aria-label={t.picks.writeBefore(p.key, d.writing.order[at(p.key) - 1])}
                    onClick={() => move.mutate({ component: p.key, before: d.writing.order[at(p.key) - 1] ?? '' })}
                  >
                    {t.picks.earlier}
                  </Button>
                )}
              </td>
            )}
          </tr>
        ))}
      </Rows>
    </>
  );
}
