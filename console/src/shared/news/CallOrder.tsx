import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useMissing } from '../data/rights';
import { Text } from '../ui/fields';
import { Act, Empty, Panel, Problem, Rows } from '../ui/parts';
import { order, sayOrder, type Callee } from './api';
import { t } from './texts';

/** Who is called when something is wrong at a stage, in order. */
export function CallOrder({ stage }: { stage: string }) {
  const queries = useQueryClient();
  const now = useQuery(order(stage));
  const may = useMissing('administer', stage, '*');
  const [next, setNext] = useState({ login: '', how: '', minutes: '15' });
  const say = useMutation({
    mutationFn: sayOrder,
    onSettled: () => queries.invalidateQueries({ queryKey: ['news'] }),
    onSuccess: () => setNext({ login: '', how: '', minutes: '15' }),
  });
  const list = now.data?.callees ?? [];
  const to = (callees: Callee[]) => say.mutate({ stage, callees, revision: now.data?.revision ?? 0 });
  const minutes = Number(next.minutes);
  const fits = next.login.trim() !== '' && Number.isInteger(minutes) && minutes >= 1 && minutes <= 1440;
  return (
    <Panel title={t.order.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.order.hint}
      </Typography>
      <Problem error={now.error ?? say.error} />
      {now.data && list.length === 0 && <Empty>{t.order.none}</Empty>}
      {list.length > 0 && (
        <Rows label={t.order.title} heads={t.order.heads}>
          {list.map((c, n) => (
            <tr key={c.login}>
              <td>{n + 1}</td>
              <td>{c.login}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{c.how}</td>
              <td>{c.minutes}</td>
              <td>
                <Act
                  kind="outlined"
                  why={may}
                  busy={say.isPending}
                  onClick={() => to(list.filter((x) => x.login !== c.login))}
                >
                  {t.order.remove(c.login)}
                </Act>
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 1 }}>
        <Text label={t.order.who} value={next.login} width={150} set={(login) => setNext({ ...next, login })} />
        <Text label={t.order.how} value={next.how} width={240} set={(how) => setNext({ ...next, how })} />
        <Text label={t.order.minutes} value={next.minutes} width={100} set={(m) => setNext({ ...next, minutes: m })} />
        <Act
          kind="outlined"
          why={may ?? (fits ? undefined : t.order.need)}
          busy={say.isPending}
          onClick={() => to([...list, { login: next.login.trim(), how: next.how, minutes }])}
        >
          {t.order.add}
        </Act>
      </Box>
    </Panel>
  );
}
