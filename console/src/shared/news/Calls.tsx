import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Act, Go, Panel, Problem, Rows, State, Time } from '../ui/parts';
import { calls, endCall, takeCall, type Call } from './api';
import { t } from './texts';

/** Those that are not over; nothing is shown where there are none. */
export function Calls() {
  const queries = useQueryClient();
  const again = () => void queries.invalidateQueries({ queryKey: ['news'] });
  const all = useQuery(calls());
  const take = useMutation({ mutationFn: takeCall, onSettled: again });
  const end = useMutation({ mutationFn: endCall, onSettled: again });
  const open = (all.data ?? []).filter((c) => c.state !== 'over');
  if (open.length === 0) return <Problem error={all.error} />;
  return (
    <Panel title={t.calls.title}>
      <Problem error={all.error ?? take.error ?? end.error} />
      <Rows label={t.calls.title} heads={t.calls.heads}>
        {open.map((c) => (
          <tr key={c.number}>
            <td>
              {c.number} <State word={c.state} />
            </td>
            <td style={{ minWidth: 180, overflowWrap: 'anywhere' }}>
              {c.run ? <Go to={`/runs/${c.run}/night`}>{c.cause}</Go> : c.cause}
              <Typography variant="caption" component="div" color="textSecondary">
                {[c.stage, c.site].filter(Boolean).join('/')} <Time at={c.made} />
              </Typography>
            </td>
            <td>
              <Told c={c} />
            </td>
            <td>
              <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
                {c.state === 'open' && (
                  <Act kind="contained" busy={take.isPending} onClick={() => take.mutate(c.number)}>
                    {t.calls.take(c.number)}
                  </Act>
                )}
                <Act kind="outlined" busy={end.isPending} onClick={() => end.mutate(c.number)}>
                  {t.calls.over(c.number)}
                </Act>
              </Box>
            </td>
          </tr>
        ))}
      </Rows>
    </Panel>
  );
}

function Told({ c }: { c: Call }) {
  return (
    <>
      {c.told.map((one) => (
        <div key={one.login + one.at}>{t.calls.told(one.login, one.words)}</div>
      ))}
      {c.state === 'taken' && <b>{t.calls.takenBy(c.by ?? '')}</b>}
      {c.state === 'open' &&
        (c.next ? (
          <>
            {t.calls.next} <Time at={c.next} />
          </>
        ) : (
          <b>{t.calls.nobody}</b>
        ))}
    </>
  );
}
