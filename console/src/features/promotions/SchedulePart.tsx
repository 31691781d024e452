import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { full } from '../../shared/time';
import { Text, When } from '../../shared/ui/fields';
import { Act, Go, Panel, Problem, State } from '../../shared/ui/parts';
import { schedules, type Promotion } from './api';
import { t } from './texts';

/** A run that starts by itself: when, what moved meanwhile, and letting it. */
export function SchedulePart({ p }: { p: Promotion }) {
  const queries = useQueryClient();
  const all = useQuery(schedules(p.number));
  const [at, setAt] = useState('');
  const [before, setBefore] = useState('');
  const stage = p.goal.site.split('/')[0] ?? '';
  const may = useMissing('run', stage, p.goal.application);
  const list = all.data ?? [];
  const waits = list.find((s) => s.state === 'waiting');
  const again = () => {
    for (const key of ['promotions', 'calendar']) void queries.invalidateQueries({ queryKey: [key] });
  };
  const add = useMutation({
    mutationFn: (asked: { at?: string; after?: string }) =>
      unwrap(
        client.POST('/api/v1/promotions/{number}/schedule', {
          params: { path: { number: p.number } },
          body: { ...asked, fingerprint: p.plan?.fingerprint ?? '' },
        }),
      ),
    onSettled: again,
  });
  const back = useMutation({
    mutationFn: (number: string) =>
      unwrap(client.POST('/api/v1/schedules/{number}/withdraw', { params: { path: { number } } })),
    onSettled: again,
  });
  const open = ['ready', 'agreed'].includes(p.state);
  const other = p.gates.find((g) => g.code !== 'calendar');
  const why =
    may ??
    (other ? t.schedule.otherGate(other.words) : p.compared.takesAway.length > 0 ? t.schedule.takesAway : undefined);
  if (!open && list.length === 0) return null;
  return (
    <Panel title={t.schedule.title}>
      <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1 }}>
        {t.schedule.hint} <Go to="/calendar">{t.schedule.calendar}</Go>
      </Typography>
      <Problem error={all.error ?? add.error ?? back.error} />
      {list.map((s) => (
        <Box key={s.number} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', mb: 1 }}>
          <b>{s.number}</b> <State word={s.state} />
          <span>
            {s.after ? t.schedule.after(s.after, s.by) : t.schedule.at(full(s.at), s.by)}
            {s.sentence && ` ${s.sentence}`}
          </span>
          {s.run && <Go to={`/runs/${s.run}`}>{s.run}</Go>}
          {s.mayWithdraw && (
            <Act kind="outlined" busy={back.isPending} onClick={() => back.mutate(s.number)}>
              {t.schedule.withdraw(s.number)}
            </Act>
          )}
        </Box>
      ))}
      {open && !waits && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <When label={t.schedule.when} value={at} set={setAt} />
          <Act
            kind="outlined"
            why={why ?? (at ? undefined : t.schedule.sayWhen)}
            busy={add.isPending}
            onClick={() => add.mutate({ at: new Date(at).toISOString() })}
          >
            {t.schedule.start(p.number)}
          </Act>
          <Act kind="outlined" why={why} busy={add.isPending} onClick={() => add.mutate({})}>
            {t.schedule.next}
          </Act>
          <Text label={t.schedule.other} value={before} set={setBefore} width={160} />
          <Act
            kind="outlined"
            why={why ?? (/^P-\d+$/.test(before.trim()) ? undefined : t.schedule.sayOther)}
            busy={add.isPending}
            onClick={() => add.mutate({ after: before.trim() })}
          >
            {t.schedule.startAfter(p.number)}
          </Act>
        </Box>
      )}
    </Panel>
  );
}
