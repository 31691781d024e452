import { MenuItem, TextField, Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { Act, Download, Loading, PageTitle, Panel, Problem, Time } from '../../shared/ui/parts';
import { paths, prepare, release, save, stages, type Release } from './api';
import { CasePanel } from './CasePanel';
import { Members } from './Members';
import { t } from './texts';

/** A release: what it holds, and how it stands wherever it was taken, the newest first. */
export default function ReleasePage() {
  const { key = '' } = useParams();
  const q = useQuery(release(key));
  if (q.error && !q.data) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={t.page.theRelease(key)} />;
  const r = q.data;
  const free = r.cases.every((c) => c.state === 'withdrawn');
  return (
    <>
      <PageTitle
        title={r.title}
        note={
          <>
            {t.page.releaseCollectedBy(r.key, r.by)}
            <Time at={r.at} />
          </>
        }
      />
      <Panel title={t.members}>
        <Typography>{r.members.map((m) => m.replace('@', ' ')).join(', ')}</Typography>
        {free && <Change key={r.members.join()} r={r} />}
        <TakeTo r={r} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1.5 }}>
          {Object.entries(t.recordForms).map(([form, words]) => (
            <Download key={form} href={`/api/v1/releases/${r.key}/record/${form}`}>
              {words}
            </Download>
          ))}
          <Download href={`/api/v1/releases/${r.key}/record`}>{t.recordJson}</Download>
        </Box>
      </Panel>
      {[...r.cases].reverse().map((c) => (
        <CasePanel key={`${c.site} ${c.preparedAt}`} r={r} c={c} />
      ))}
    </>
  );
}

function Change({ r }: { r: Release }) {
  const queries = useQueryClient();
  const [members, setMembers] = useState(r.members);
  const act = useMutation({
    mutationFn: () => save(r.key, r.title, members, r.revision),
    onSuccess: (next) => queries.setQueryData(['releases', r.key], next),
  });
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1.5 }}>
        {t.change}
      </Box>
      <Problem error={act.error} />
      <Members chosen={members} set={setMembers} />
      <Act
        kind="outlined"
        why={members.length === 0 ? t.needMember : undefined}
        busy={act.isPending}
        onClick={() => act.mutate()}
      >
        {t.keep}
      </Act>
    </Box>
  );
}

function TakeTo({ r }: { r: Release }) {
  const queries = useQueryClient();
  const [site, setSite] = useState('');
  const [path, setPath] = useState('');
  const places = useQuery(stages());
  const ways = useQuery(paths()).data ?? [];
  const act = useMutation({
    mutationFn: () => prepare(r.key, site, path || undefined),
    onSuccess: (next) => queries.setQueryData(['releases', r.key], next),
  });
  const sites =
    places.data?.filter((s) => s.role !== 'development').flatMap((s) => s.sites.map((x) => `${s.key}/${x.key}`)) ?? [];
  return (
    <Box sx={{ mt: 2 }}>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <TextField
          select
          size="small"
          label={t.site}
          value={site}
          onChange={(e) => setSite(e.target.value)}
          sx={{ minWidth: 180 }}
        >
          {sites.map((s) => (
            <MenuItem key={s} value={s}>
              {s}
            </MenuItem>
          ))}
        </TextField>
        {ways.length > 1 && (
          <TextField
            select
            size="small"
            label={t.path}
            value={path}
            onChange={(e) => setPath(e.target.value)}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            sx={{ minWidth: 220 }}
          >
            {[{ key: '', name: t.ordinary }, ...ways].map((w) => (
              <MenuItem key={w.key} value={w.key}>
                {w.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <Act kind="outlined" why={site ? undefined : t.needSite} busy={act.isPending} onClick={() => act.mutate()}>
          {t.prepare(site)}
        </Act>
      </Box>
    </Box>
  );
}
