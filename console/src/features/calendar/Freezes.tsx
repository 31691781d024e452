import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { stages } from '../../shared/data/lists';
import { useMissing } from '../../shared/data/rights';
import { full } from '../../shared/time';
import { Choice, Text, When } from '../../shared/ui/fields';
import { Act, Empty, Panel, Problem, Rows } from '../../shared/ui/parts';
import { freeze, freezes, holds, lift, type Freeze } from './api';
import { t } from './texts';

function useAgain() {
  const queries = useQueryClient();
  return () => {
    for (const key of ['calendar', 'promotions', 'standing']) void queries.invalidateQueries({ queryKey: [key] });
  };
}

/** What holds stages, and holding one: what that stops is said first. */
export function Freezes() {
  const all = useQuery(freezes());
  const open = (all.data ?? []).filter((f) => !f.over);
  return (
    <Panel title={t.freezes.title}>
      <Problem error={all.error} />
      {all.data && open.length === 0 && <Empty>{t.freezes.none}</Empty>}
      {open.length > 0 && (
        <Rows label={t.freezes.title} heads={t.freezes.heads}>
          {open.map((f) => (
            <One key={f.number} f={f} />
          ))}
        </Rows>
      )}
      <Add />
    </Panel>
  );
}

function One({ f }: { f: Freeze }) {
  const again = useAgain();
  const [reason, setReason] = useState('');
  const may = useMissing('administer', f.stage, '*');
  const act = useMutation({ mutationFn: lift, onSuccess: again });
  return (
    <tr>
      <td>{f.number}</td>
      <td>{f.stage}</td>
      <td>{full(f.from)}</td>
      <td>{full(f.until)}</td>
      <td>
        {f.reason}
        {f.except.length > 0 && t.freezes.butFor(f.except.join(', '))}
      </td>
      <td>
        <Problem error={act.error} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
          <Text label={t.freezes.liftReason(f.number)} value={reason} set={setReason} width={200} />
          <Act
            kind="outlined"
            why={may ?? (reason.trim() ? undefined : t.freezes.needReason)}
            busy={act.isPending}
            onClick={() => act.mutate({ number: f.number, reason })}
          >
            {t.freezes.lift(f.number)}
          </Act>
        </Box>
      </td>
    </tr>
  );
}

function Add() {
  const again = useAgain();
  const known = useQuery(stages());
  const [stage, setStage] = useState('');
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const [reason, setReason] = useState('');
  const may = useMissing('administer', stage, '*');
  const whole = stage && from && until && reason.trim();
  const asked = {
    stage,
    from: from ? new Date(from).toISOString() : '',
    until: until ? new Date(until).toISOString() : '',
    reason: reason.trim(),
    except: [],
  };
  const would = useQuery({
    queryKey: ['calendar', 'holds', asked],
    queryFn: () => holds(asked),
    enabled: Boolean(whole),
    retry: false,
  });
  const act = useMutation({
    mutationFn: freeze,
    onSuccess: () => {
      setReason('');
      again();
    },
  });
  return (
    <Box component="details" sx={{ borderTop: '1px solid var(--mui-palette-divider)', pt: 1, mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>
        {t.freezes.add}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ my: 1, maxWidth: '72ch' }}>
        {t.freezes.hint}
      </Typography>
      <Problem error={act.error ?? would.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Choice
          label={t.freezes.stage}
          value={stage}
          of={(known.data ?? []).map((s) => [s.key, s.name])}
          set={setStage}
        />
        <When label={t.freezes.from} value={from} set={setFrom} />
        <When label={t.freezes.until} value={until} set={setUntil} />
        <Text label={t.freezes.reason} value={reason} set={setReason} width={240} />
        <Act kind="outlined" why={whole ? may : t.freezes.need} busy={act.isPending} onClick={() => act.mutate(asked)}>
          {t.freezes.save}
        </Act>
      </Box>
      {would.data && (
        <ul style={{ margin: '8px 0 0', paddingLeft: 18 }}>
          {would.data.promotions.length + would.data.schedules.length === 0 && <li>{t.freezes.nothing}</li>}
          {would.data.promotions.map((p) => (
            <li key={p}>{t.freezes.holds(p)}</li>
          ))}
          {would.data.schedules.map((s) => (
            <li key={s}>{t.freezes.refuses(s)}</li>
          ))}
        </ul>
      )}
    </Box>
  );
}
