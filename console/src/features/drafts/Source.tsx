import { Alert, Box, Button, Checkbox, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { unseen } from '../../shared/ui/parts';
import { Act, Empty, Loading, Panel, Problem, Sign, Time } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';
import { Content } from './Content';
import { Dropping } from './Dropping';
import { RowsOf } from './RowsOf';
import { t } from './texts';
import { applications, stages } from '../../shared/data/lists';

const kinds = [
  'table',
  'records',
  'view',
  'routine',
  'trigger',
  'type',
  'sequence',
  'policy',
  'grant',
  'file',
  'integration',
  'rule',
  'form',
];

/** What changed at the source and can be picked. */
export function Source({ d }: { d: Draft }) {
  const [site, setSite] = useState('');
  const [find, setFind] = useState('');
  const [kind, setKind] = useState('');
  const [day, setDay] = useState('');
  const sought = useDeferredValue(find);
  const [read, setRead] = useState('');
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
    queryKey: ['components', d.application, at, d.from, sought, kind, day],
    enabled: at !== '',
    placeholderData: (before) => before,
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/components', {
          params: {
            query: {
              application: d.application,
              site: at,
              since: d.from,
              find: sought || undefined,
              kind: kind || undefined,
              changedSince: day || undefined,
            },
          },
        }),
      ),
  });
  const add = useDraftAct(d.id, (pick: Schemas['PickView']) =>
    unwrap(
      client.POST('/api/v1/drafts/{id}/add', {
        params: { path: { id: d.id } },
        body: { site: at, picks: [pick] },
      }),
    ),
  );
  const many = useDraftAct(d.id, (components: string[]) =>
    unwrap(
      client.POST('/api/v1/drafts/{id}/add', {
        params: { path: { id: d.id } },
        body: { site: at, picks: components.map((component) => ({ component })), whatCanBe: true },
      }),
    ),
  );
  const drop = useDraftAct(d.id, (component: string) =>
    unwrap(client.POST('/api/v1/drafts/{id}/drop', { params: { path: { id: d.id } }, body: { component } })),
  );
  const going = useMutation({
    mutationFn: (component: string) =>
      unwrap(client.GET('/api/v1/drafts/{id}/drop', { params: { path: { id: d.id }, query: { component } } })),
    // what goes alone goes at once
    onSuccess: (g) => {
      if (g.goes.length === 0 && g.stays === '') drop.mutate(g.component);
    },
  });
  const items = (list.data ?? []).filter((c) => c.state !== 'same');
  const open = items.filter(
    (c) =>
      (c.state === 'new' || c.state === 'changed') &&
      c.problem === '' &&
      (day === '' || c.changedAt) &&
      !d.picks.some((p) => p.key === c.key),
  );
  const sign: Record<string, string> = { new: 'added', changed: 'changed', gone: 'removed', refused: 'conflict' };
  return (
    <Panel title={t.source.changedSince(d.from)}>
      <Problem error={list.error ?? commit.error ?? add.error ?? many.error ?? going.error ?? drop.error} />
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
          helperText={t.source.findHint}
        />
        <TextField
          type="date"
          size="small"
          label={t.source.changedFrom}
          value={day}
          onChange={(e) => setDay(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          select
          size="small"
          label={t.source.kind}
          value={kind}
          onChange={(e) => setKind(e.target.value)}
          sx={{ minWidth: 140 }}
        >
          <MenuItem value="">{t.source.allKinds}</MenuItem>
          {kinds.map((k) => (
            <MenuItem key={k} value={k}>
              {k}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      {open.length > 1 && (
        <Box sx={{ mb: 1 }}>
          <Act kind="outlined" busy={many.isPending} onClick={() => many.mutate(open.map((c) => c.key))}>
            {t.source.takeAll(open.length, find !== '' || kind !== '' || day !== '')}
          </Act>
        </Box>
      )}
      {d.notTaken.length > 0 && (
        <Alert severity="warning" sx={{ mb: 1 }}>
          {t.source.notTaken(d.notTaken.length)}
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {d.notTaken.map((n) => (
              <li key={n} style={{ overflowWrap: 'anywhere' }}>
                {n}
              </li>
            ))}
          </ul>
        </Alert>
      )}
      {!list.data ? (
        at !== '' && <Loading what={t.source.whatHolds(at)} />
      ) : items.length === 0 ? (
        <Empty>{find ? t.source.nothingMatches : t.source.nothingChangedAtSince(at, d.from)}</Empty>
      ) : (
        items.map((c) => {
          const picked = d.picks.some((p) => p.key === c.key);
          return (
            <Box key={c.key} sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 0.5, minWidth: 0 }}>
              <Box component="label" sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}>
                <Checkbox
                  size="small"
                  data-item
                  checked={picked}
                  disabled={
                    c.state === 'gone' || c.problem !== '' || add.isPending || going.isPending || drop.isPending
                  }
                  onChange={() => (picked ? going.mutate(c.key) : add.mutate({ component: c.key }))}
                />
                <Sign of={sign[c.state] ?? 'same'} />
                <Box sx={{ minWidth: 0 }}>
                  <Box sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{c.key}</Box>
                  <Typography variant="caption" color="textSecondary">
                    {c.state}: {c.changes}
                    {c.author && t.source.lastBy(c.author)}
                    {c.changedAt && (
                      <>
                        {t.source.lastAt(Boolean(c.author))}
                        <Time at={c.changedAt} />
                      </>
                    )}
                    {day !== '' && !c.changedAt && t.source.noTime}
                    {c.problem && `; ${c.problem}`}
                  </Typography>
                </Box>
              </Box>
              {picked && going.data?.component === c.key && (going.data.goes.length > 0 || going.data.stays !== '') && (
                <Dropping
                  what={going.data}
                  busy={drop.isPending}
                  drop={() => drop.mutate(c.key)}
                  leave={() => going.reset()}
                />
              )}
              {(c.state === 'new' || c.state === 'changed') && c.problem === '' && (
                <Box sx={{ pl: 5 }}>
                  <Button
                    size="small"
                    aria-expanded={read === c.key}
                    onClick={() => setRead(read === c.key ? '' : c.key)}
                  >
                    {read === c.key ? t.source.close : t.source.read}
                    <Box component="span" sx={unseen}>{` ${c.key}`}</Box>
                  </Button>
                  {read === c.key && <Content d={d} at={at} component={c.key} />}
                  {read === c.key && c.key.startsWith('records/') && (
                    <RowsOf component={c.key} busy={add.isPending} take={(pick) => add.mutate(pick)} />
                  )}
                </Box>
              )}
            </Box>
          );
        })
      )}
    </Panel>
  );
}
