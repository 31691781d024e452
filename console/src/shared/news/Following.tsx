import { Autocomplete, Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { applications, stages } from '../data/lists';
import { Text, Ticks } from '../ui/fields';
import { Act, Loading, Panel, Problem } from '../ui/parts';
import { follow, following, tryMail, type Following as F } from './api';
import { t } from './texts';

/** What one is told of, and where letters go. */
export function Following() {
  const now = useQuery(following());
  return (
    <Panel title={t.following.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.following.hint}
      </Typography>
      <Problem error={now.error} />
      {now.data ? <Fields was={now.data} /> : <Loading what={t.following.title} />}
    </Panel>
  );
}

function Fields({ was }: { was: F }) {
  const queries = useQueryClient();
  const [v, set] = useState<F>({ ...was, zone: was.quietFrom ? was.zone : here() });
  const places = useQuery(stages());
  const apps = useQuery(applications());
  const save = useMutation({
    mutationFn: follow,
    onSuccess: () => queries.invalidateQueries({ queryKey: ['news'] }),
  });
  const tried = useMutation({ mutationFn: tryMail });
  const change = (part: Partial<F>) => set({ ...v, ...part });
  return (
    <>
      <Problem error={save.error ?? tried.error} />
      <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mb: 1 }}>
        <Box component="legend" sx={{ p: 0 }}>
          {t.following.sorts}
        </Box>
        <Ticks
          of={(was.sorts ?? []).map((n) => [
            t.sorts[n] ?? n,
            v.news.includes(n),
            (on) => change({ news: on ? [...v.news, n] : v.news.filter((x) => x !== n) }),
          ])}
        />
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Some
          label={t.following.stages}
          of={(places.data ?? []).map((s) => s.key)}
          value={v.stages}
          set={(chosen) => change({ stages: chosen })}
        />
        <Some
          label={t.following.applications}
          of={(apps.data ?? []).map((a) => a.key)}
          value={v.applications}
          set={(chosen) => change({ applications: chosen })}
        />
        <Text label={t.following.mail} value={v.mail} width={260} set={(mail) => change({ mail })} />
        <Text
          label={t.following.quietFrom}
          value={v.quietFrom ?? ''}
          width={190}
          set={(quietFrom) => change({ quietFrom })}
        />
        <Text
          label={t.following.quietUntil}
          value={v.quietUntil ?? ''}
          width={150}
          set={(quietUntil) => change({ quietUntil })}
        />
        <Text label={t.following.zone} value={v.zone} width={180} set={(zone) => change({ zone })} />
        <Act kind="outlined" busy={save.isPending} onClick={() => save.mutate(v)}>
          {t.following.save}
        </Act>
        <Act
          kind="outlined"
          why={was.byMail === false ? t.following.noServer : was.mail ? undefined : t.following.needAddress}
          busy={tried.isPending}
          onClick={() => tried.mutate()}
        >
          {t.following.try}
        </Act>
        {save.isSuccess && <Box role="status">{t.following.saved}</Box>}
        {tried.data && <Box role="status">{t.following.tried(tried.data.to)}</Box>}
      </Box>
    </>
  );
}

function here(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
}

function Some({ label, of, value, set }: { label: string; of: string[]; value: string[]; set: (v: string[]) => void }) {
  return (
    <Autocomplete
      multiple
      size="small"
      options={of}
      value={value}
      onChange={(_, chosen) => set(chosen)}
      sx={{ width: 260 }}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
