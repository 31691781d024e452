import { Box, Checkbox, MenuItem, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { Empty, Loading, Panel, Problem, Sign } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';
import { t } from './texts';
import { applications, stages } from '../../shared/data/lists';

/** What changed at the source and can be picked. */
export function Source({ d }: { d: Draft }) {
  const [site, setSite] = useState('');
  const [find, setFind] = useState('');
  const places = useQuery(stages());
  const sites = (places.data ?? []).flatMap((s) =>
    s.sites.map((x) => ({ key: `${s.key}/${x.key}`, source: s.role === 'development' })),
  );
  const repository = useQuery({
    ...applications(),
    select: (all) => all.find((a) => a.key === d.application)?.repository,
  });
  // an application with a repository comes from there, unless a person says otherwise
  const from =
    site || (!repository.isSuccess ? '' : repository.data ? 'git' : (sites.find((s) => s.source)?.key ?? ''));
  const [revision, setRevision] = useState('');
  const commit = useQuery({
    queryKey: ['commit', d.application, revision],
    enabled: from === 'git',
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/applications/{key}/commit', {
          params: { path: { key: d.application }, query: { revision: revision || undefined } },
        }),
      ),
    retry: false,
  });
  const at = from === 'git' ? (commit.data ? `git/${commit.data.hash}` : '') : from;
  const list = useQuery({
    queryKey: ['components', d.application, at, d.from],
    enabled: at !== '',
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/components', {
          params: { query: { application: d.application, site: at, since: d.from } },
        }),
      ),
  });
  const add = useDraftAct(d.id, (component: string) =>
    unwrap(
      client.POST('/api/v1/drafts/{id}/add', {
        params: { path: { id: d.id } },
        body: { site: at, picks: [{ component }] },
      }),
    ),
  );
  const drop = useDraftAct(d.id, (component: string) =>
    unwrap(client.POST('/api/v1/drafts/{id}/drop', { params: { path: { id: d.id } }, body: { component } })),
  );
  const items = (list.data ?? []).filter((c) => c.state !== 'same' && c.key.includes(find));
  const sign: Record<string, string> = { new: 'added', changed: 'changed', gone: 'removed', refused: 'conflict' };
  return (
    <Panel title={t.source.changedSince(d.from)}>
      <Problem error={list.error ?? commit.error ?? add.error ?? drop.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1.5, mb: 1 }}>
        <TextField
          select
          size="small"
          label={t.source.takeFrom}
          value={from}
          onChange={(e) => setSite(e.target.value)}
          sx={{ minWidth: 180 }}
        >
          {sites.map((s) => (
            <MenuItem key={s.key} value={s.key}>
              {s.key}
            </MenuItem>
          ))}
          {repository.data && <MenuItem value="git">{repository.data}</MenuItem>}
        </TextField>
        {from === 'git' && (
          <TextField
            size="small"
            label={t.source.branchTagOrCommit}
            value={revision}
            onChange={(e) => setRevision(e.target.value)}
            helperText={
              commit.data && t.source.by(commit.data.hash.slice(0, 12), commit.data.author, commit.data.message)
            }
          />
        )}
        <TextField
          size="small"
          label={t.source.find}
          value={find}
          onChange={(e) => setFind(e.target.value)}
          slotProps={{ htmlInput: { 'data-find': true } }}
        />
      </Box>
      {!list.data ? (
        at !== '' && <Loading what={t.source.whatHolds(at)} />
      ) : items.length === 0 ? (
        <Empty>{find ? t.source.nothingMatches : t.source.nothingChangedAtSince(at, d.from)}</Empty>
      ) : (
        items.map((c) => {
          const picked = d.picks.some((p) => p.key === c.key);
          return (
            <Box
              key={c.key}
              component="label"
              sx={{
                display: 'flex',
                alignItems: 'center',
                gap: 1,
                borderTop: '1px solid var(--mui-palette-divider)',
                py: 0.5,
                minWidth: 0,
              }}
            >
              <Checkbox
                size="small"
                data-item
                checked={picked}
                disabled={c.state === 'gone' || c.problem !== '' || add.isPending || drop.isPending}
                onChange={() => (picked ? drop.mutate(c.key) : add.mutate(c.key))}
              />
              <Sign of={sign[c.state] ?? 'same'} />
              <Box sx={{ minWidth: 0 }}>
                <Box sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{c.key}</Box>
                <Typography variant="caption" color="textSecondary">
                  {c.state}: {c.changes}
                  {c.problem && `; ${c.problem}`}
                </Typography>
              </Box>
            </Box>
          );
        })
      )}
    </Panel>
  );
}
