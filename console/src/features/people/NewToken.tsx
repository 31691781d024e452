import { Autocomplete, Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { applications, rights, stages } from '../../shared/data/lists';
import { Act, Panel, Problem } from '../../shared/ui/parts';
import { Hint, line, useAfter } from './parts';
import { t } from './texts';

const MOST_DAYS = 90;

/** A token of one's own, narrowed or not; its secret is shown once and kept nowhere. */
export function NewToken() {
  const after = useAfter();
  const [label, setLabel] = useState('');
  const [days, setDays] = useState(String(MOST_DAYS));
  const [some, setSome] = useState<{ rights: string[]; stages: string[]; applications: string[] }>({
    rights: [],
    stages: [],
    applications: [],
  });
  const all = useQuery(rights());
  const places = useQuery(stages());
  const apps = useQuery(applications());
  const make = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/tokens', { body: { label, days: Number(days), only: some } })),
    onSuccess: () => {
      setLabel('');
      return after.onSuccess();
    },
  });
  const fits = /^[0-9]+$/.test(days) && Number(days) >= 1 && Number(days) <= MOST_DAYS;
  return (
    <Panel title={t.token.title}>
      <Hint>{t.token.hint}</Hint>
      <Problem error={make.error} />
      <Box sx={{ display: 'grid', gap: 2 }}>
        <Box sx={line}>
          <TextField size="small" label={t.token.label} value={label} onChange={(e) => setLabel(e.target.value)} />
          <TextField
            size="small"
            label={t.token.days}
            value={days}
            onChange={(e) => setDays(e.target.value)}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
            sx={{ width: 90 }}
          />
        </Box>
        <Some
          label={t.token.rights}
          of={(all.data ?? []).map((r) => r.right)}
          value={some.rights}
          onChange={(x) => setSome({ ...some, rights: x })}
        />
        <Some
          label={t.token.stages}
          of={(places.data ?? []).map((s) => s.key)}
          value={some.stages}
          onChange={(x) => setSome({ ...some, stages: x })}
        />
        <Some
          label={t.token.applications}
          of={(apps.data ?? []).map((a) => a.key)}
          value={some.applications}
          onChange={(x) => setSome({ ...some, applications: x })}
        />
        <Box>
          <Act
            kind="outlined"
            why={label.trim() === '' ? t.token.missing : fits ? undefined : t.token.wrongDays}
            busy={make.isPending}
            onClick={() => make.mutate()}
          >
            {t.token.make}
          </Act>
        </Box>
        {make.data && (
          <Box role="status">
            <Hint>{t.token.made}</Hint>
            <Typography component="code" sx={{ fontFamily: 'monospace', wordBreak: 'break-all' }}>
              {make.data.secret}
            </Typography>
          </Box>
        )}
      </Box>
    </Panel>
  );
}

function Some(with_: { label: string; of: string[]; value: string[]; onChange: (value: string[]) => void }) {
  return (
    <Autocomplete
      multiple
      size="small"
      options={with_.of}
      value={with_.value}
      onChange={(_, value) => with_.onChange(value)}
      renderInput={(input) => (
        <TextField
          {...input}
          label={with_.label}
          placeholder={with_.value.length === 0 ? t.token.all : ''}
          slotProps={{ ...input.slotProps, inputLabel: { ...input.slotProps.inputLabel, shrink: true } }}
        />
      )}
      sx={{ maxWidth: 560 }}
    />
  );
}
