import { Box, Typography } from '@mui/material';
import { useState } from 'react';
import type { Schemas } from '../../../shared/data/api';
import { useMissing } from '../../../shared/data/rights';
import { Text, Ticks } from '../../../shared/ui/fields';
import { Act } from '../../../shared/ui/parts';
import { saveStage, useSetUp, type Stage } from '../api';
import { t } from '../texts';
import { Form } from './Form';

const week = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];

/** Hours in which runs may start at a stage. */
export function Windows({ s }: { s: Stage }) {
  const own = s.windows ?? [];
  const [days, setDays] = useState<string[]>([]);
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const act = useSetUp(saveStage, ['stages', 'promotions', 'proposals', 'calendar'], () => setDays([]));
  const may = useMissing('administer', s.key, '*');
  const why = may ?? (days.length === 0 ? t.windows.need.days : !from || !until ? t.windows.need.hours : undefined);
  const save = (windows: Schemas['WindowView'][]) => act.mutate({ ...s, windows });
  return (
    <>
      {own.map((w, n) => (
        <Box key={n} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', py: 0.5 }}>
          <Typography variant="body2">{t.windows.said(w.days.join(', '), w.from, w.until, s.zone)}</Typography>
          <Act kind="outlined" why={may} busy={act.isPending} onClick={() => save(own.filter((_, i) => i !== n))}>
            {t.windows.remove(w.days.join(', '), w.from)}
          </Act>
        </Box>
      ))}
      <Form
        title={t.windows.title(s.name)}
        hint={t.windows.hint}
        error={act.error}
        busy={act.isPending}
        why={why}
        save={t.windows.save}
        onSave={() => save([...own, { days, from, until }])}
      >
        <Ticks
          of={week.map((d) => [
            t.windows.days[d] ?? d,
            days.includes(d),
            (on) => setDays(week.filter((x) => (x === d ? on : days.includes(x)))),
          ])}
        />
        <Text label={t.windows.from} value={from} set={setFrom} type="time" width={140} />
        <Text label={t.windows.until} value={until} set={setUntil} type="time" width={140} />
      </Form>
    </>
  );
}
