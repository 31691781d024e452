import { Box, MenuItem, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Act, Empty, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { Hint, line } from './parts';
import { t } from './texts';

const KEY = ['deputies'];

/** Who stands in for somebody, and for whom they stand in. */
export function Deputies({ of, own }: { of: string; own: boolean }) {
  const queries = useQueryClient();
  const all = useQuery({ queryKey: KEY, queryFn: () => unwrap(client.GET('/api/v1/deputies')) });
  const theirs = (all.data?.items ?? []).filter((d) => d.of === of || d.deputy === of);
  const end = useMutation({
    mutationFn: (number: string) =>
      unwrap(client.POST('/api/v1/deputies/{number}/end', { params: { path: { number } } })),
    onSuccess: () => void queries.invalidateQueries(),
  });
  return (
    <Panel title={t.deputies.title}>
      <Hint>{t.deputies.hint}</Hint>
      <Problem error={all.error ?? end.error} />
      {theirs.length === 0 && !all.isPending && <Empty>{t.deputies.none}</Empty>}
      {theirs.length > 0 && (
        <Rows label={t.deputies.title} heads={t.deputies.heads}>
          {theirs.map((d) => (
            <tr key={d.number}>
              <td>
                {d.deputy} {t.deputies.standsInFor} {d.of}
                {d.reason && <>: {d.reason}</>}
              </td>
              <td>{d.role || t.deputies.noRole}</td>
              <td>{d.stage === '*' ? t.deputies.everyStage : d.stage}</td>
              <td>
                <Time at={d.from} /> – <Time at={d.until} />
                {t.deputies.states[d.state]}
              </td>
              <td>
                {d.mayEnd && (
                  <Act
                    kind="outlined"
                    name={t.deputies.endLabel(d.number)}
                    busy={end.isPending}
                    onClick={() => end.mutate(d.number)}
                  >
                    {t.deputies.end}
                  </Act>
                )}
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Name of={of} own={own} />
    </Panel>
  );
}

function Name({ of, own }: { of: string; own: boolean }) {
  const queries = useQueryClient();
  const stages = useQuery({ queryKey: ['stages'], queryFn: () => unwrap(client.GET('/api/v1/stages')) });
  const roles = useQuery({ queryKey: ['roles'], queryFn: () => unwrap(client.GET('/api/v1/roles')) });
  const [v, setV] = useState({ deputy: '', role: '', stage: '', until: '', reason: '' });
  const set = (more: Partial<typeof v>) => setV({ ...v, ...more });
  const name = useMutation({
    mutationFn: () => {
      const body: Schemas['NameDeputy'] = {
        of,
        deputy: v.deputy,
        role: v.role,
        stage: v.stage,
        until: new Date(`${v.until}T23:59:59`).toISOString(),
        reason: v.reason,
      };
      return unwrap(client.POST('/api/v1/deputies', { body }));
    },
    onSuccess: () => {
      setV({ deputy: '', role: '', stage: '', until: '', reason: '' });
      void queries.invalidateQueries();
    },
  });
  const missing = !v.deputy || !v.until ? t.deputies.missing : !own && !v.reason ? t.deputies.sayWhy : undefined;
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1 }}>
        {t.deputies.name}
      </Box>
      <Problem error={name.error} />
      <Box sx={line}>
        <TextField
          size="small"
          label={t.deputies.who}
          value={v.deputy}
          onChange={(e) => set({ deputy: e.target.value.trim() })}
        />
        <TextField
          select
          size="small"
          label={t.deputies.as}
          value={v.role}
          onChange={(e) => set({ role: e.target.value })}
          sx={{ minWidth: 200 }}
        >
          <MenuItem value="">{t.deputies.noRole}</MenuItem>
          {(roles.data ?? []).map((r) => (
            <MenuItem key={r.key} value={r.key}>
              {r.key}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          size="small"
          label={t.deputies.at}
          value={v.stage}
          onChange={(e) => set({ stage: e.target.value })}
          sx={{ minWidth: 160 }}
        >
          <MenuItem value="">{t.deputies.everyStage}</MenuItem>
          {(stages.data ?? []).map((s) => (
            <MenuItem key={s.key} value={s.key}>
              {s.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          size="small"
          type="date"
          label={t.deputies.until}
          value={v.until}
          onChange={(e) => set({ until: e.target.value })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          size="small"
          label={t.deputies.reason}
          value={v.reason}
          onChange={(e) => set({ reason: e.target.value })}
          sx={{ flex: '1 1 240px' }}
        />
        <Act kind="outlined" why={missing} busy={name.isPending} onClick={() => name.mutate()}>
          {t.deputies.act(own ? t.deputies.you : of)}
        </Act>
      </Box>
    </Box>
  );
}
