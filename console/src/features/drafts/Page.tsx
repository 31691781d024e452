import { Box, Button, Checkbox, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Act, Empty, Loading, PageTitle, Panel, Problem, Rows, Sign, State, Time } from '../../shared/ui/parts';

type Draft = Schemas['DraftView'];

/** Left what changed at the source, right what is chosen, brought along and left behind. */
export default function DraftPage() {
  const { id = '' } = useParams();
  const q = useQuery({
    queryKey: ['drafts', id],
    queryFn: () => unwrap(client.GET('/api/v1/drafts/{id}', { params: { path: { id } } })),
  });
  if (q.error) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={id} />;
  const d = q.data;
  return (
    <>
      <PageTitle
        title={`Draft ${d.id} of ${d.application}`}
        note={
          <>
            from {d.from}, by {d.author}, {d.state}
          </>
        }
      />
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: {
            xs: 'minmax(0, 1fr)',
            md: d.state === 'open' ? 'minmax(0, 1fr) minmax(0, 1fr)' : 'minmax(0, 1fr)',
          },
          gap: 2,
          alignItems: 'start',
        }}
      >
        {d.state === 'open' && <Source d={d} />}
        <Box sx={{ minWidth: 0 }}>
          <Chosen d={d} />
          {d.state === 'open' && <Seal d={d} />}
        </Box>
      </Box>
    </>
  );
}

function useDraftAct<V = void>(id: string, act: (v: V) => Promise<Draft>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: act, onSuccess: (d) => queries.setQueryData(['drafts', id], d) });
}

function Source({ d }: { d: Draft }) {
  const [site, setSite] = useState('');
  const [find, setFind] = useState('');
  const stages = useQuery({ queryKey: ['stages'], queryFn: () => unwrap(client.GET('/api/v1/stages')) });
  const sites = (stages.data ?? []).flatMap((s) =>
    s.sites.map((x) => ({ key: `${s.key}/${x.key}`, source: s.role === 'development' })),
  );
  const repository = useQuery({
    queryKey: ['applications'],
    queryFn: () => unwrap(client.GET('/api/v1/applications')),
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
  const sign: Record<string, string> = { new: 'added', changed: 'changed', gone: 'removed' };
  return (
    <Panel title={`Changed since ${d.from}`}>
      <Problem error={list.error ?? commit.error ?? add.error ?? drop.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1.5, mb: 1 }}>
        <TextField
          select
          size="small"
          label="Take from"
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
            label="Branch, tag or commit"
            value={revision}
            onChange={(e) => setRevision(e.target.value)}
            helperText={
              commit.data && `${commit.data.hash.slice(0, 12)} by ${commit.data.author}: ${commit.data.message}`
            }
          />
        )}
        <TextField
          size="small"
          label="Find"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          slotProps={{ htmlInput: { 'data-find': true } }}
        />
      </Box>
      {!list.data ? (
        at !== '' && <Loading what={`what ${at} holds`} />
      ) : items.length === 0 ? (
        <Empty>{find ? 'Nothing matches.' : `Nothing changed at ${at} since ${d.from}.`}</Empty>
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

function Chosen({ d }: { d: Draft }) {
  const tick = useDraftAct(d.id, (removals: string[]) =>
    unwrap(client.POST('/api/v1/drafts/{id}/removals', { params: { path: { id: d.id } }, body: { removals } })),
  );
  const chosen = d.picks.filter((p) => p.reason === 'chosen');
  const along = d.picks.filter((p) => p.reason !== 'chosen');
  return (
    <Panel title={`${chosen.length} chosen, ${along.length} brought along, ${d.problems.length} in the way`}>
      <Problem error={tick.error} />
      {d.picks.length > 0 && <Picks d={d} />}
      {d.gone.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">Gone at the source since {d.from}</Typography>
          <Typography variant="caption" color="textSecondary">
            Ticked: taken away at the stages too. Unticked: left where it is.
          </Typography>
          {d.gone.map((g) => (
            <Box key={g} component="label" sx={{ display: 'flex', alignItems: 'center' }}>
              <Checkbox
                size="small"
                checked={d.removals.includes(g)}
                disabled={d.state !== 'open'}
                onChange={(e) => tick.mutate(e.target.checked ? [...d.removals, g] : d.removals.filter((x) => x !== g))}
              />
              <span style={{ overflowWrap: 'anywhere' }}>{g}</span>
            </Box>
          ))}
        </Box>
      )}
      {d.coverage.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">Of what the source holds</Typography>
          {d.coverage.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
      {d.leftBehind.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">Changed and left behind</Typography>
          {d.leftBehind.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
      {d.cycles.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">Need one another, and are written together</Typography>
          {d.cycles.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
      {d.findings.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">Findings</Typography>
          {d.findings.map((f) => (
            <Box
              key={f.rule + f.place}
              sx={{ display: 'flex', gap: 1, borderTop: '1px solid var(--mui-palette-divider)', py: 0.75, minWidth: 0 }}
            >
              <State word={f.severity} />
              <Box sx={{ minWidth: 0, overflowWrap: 'anywhere' }}>
                {f.sentence}
                <Typography variant="caption" component="div" color="textSecondary">
                  {f.rule}
                  {f.advice && ` · ${f.advice}`}
                </Typography>
              </Box>
            </Box>
          ))}
        </Box>
      )}
    </Panel>
  );
}

/** In the order in which they are written, once they were checked; what needs allow can be moved. */
function Picks({ d }: { d: Draft }) {
  const move = useDraftAct(d.id, ({ component, before }: { component: string; before: string }) =>
    unwrap(client.POST('/api/v1/drafts/{id}/move', { params: { path: { id: d.id } }, body: { component, before } })),
  );
  const at = (key: string) => d.order.indexOf(key);
  const picks = [...d.picks].sort((a, b) => at(a.key) - at(b.key));
  const movable = d.state === 'open' && !!d.checkedAt && d.order.length > 1;
  return (
    <>
      <Problem error={move.error} />
      <Rows label="Chosen" heads={['Order', 'Component', ...(movable ? [''] : [])]}>
        {picks.map((p, n) => (
          <tr key={p.key}>
            <td style={{ width: 56 }}>{at(p.key) < 0 ? '' : at(p.key) + 1}</td>
            <td style={{ overflowWrap: 'anywhere' }}>
              {p.key}
              <Typography variant="caption" component="div" color="textSecondary">
                {[p.reason, p.changes || (p.read ? '' : 'not read yet')].filter(Boolean).join('; ')}
              </Typography>
            </td>
            {movable && (
              <td>
                {n > 0 && at(p.key) > 0 && (
                  <Button
                    size="small"
                    aria-label={`Write ${p.key} before ${d.order[at(p.key) - 1]}`}
                    onClick={() => move.mutate({ component: p.key, before: d.order[at(p.key) - 1] ?? '' })}
                  >
                    Earlier
                  </Button>
                )}
              </td>
            )}
          </tr>
        ))}
      </Rows>
    </>
  );
}

function Seal({ d }: { d: Draft }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [number, setNumber] = useState(d.proposedNumber);
  const [title, setTitle] = useState('');
  const [needs, setNeeds] = useState('');
  const [tasks, setTasks] = useState('');
  const check = useDraftAct(d.id, () =>
    unwrap(client.POST('/api/v1/drafts/{id}/check', { params: { path: { id: d.id } } })),
  );
  const seal = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/drafts/{id}/seal', {
          params: { path: { id: d.id } },
          body: {
            number,
            title,
            notes: '',
            needs: needs.trim()
              ? needs
                  .split('\n')
                  .map((x) => x.trim())
                  .filter(Boolean)
              : undefined,
            tasks: tasks.split(/[\s,]+/).filter(Boolean),
          },
        }),
      ),
    onSuccess: (v) => {
      void queries.invalidateQueries({ queryKey: ['versions', v.application] });
      navigate(`/versions/${v.application}/${v.number}`);
    },
  });
  const why =
    d.problems.length > 0
      ? d.checkedAt
        ? 'Something is in the way.'
        : 'Check it first.'
      : !title
        ? 'Give it a title.'
        : undefined;
  return (
    <Panel title="Seal">
      <Problem error={check.error ?? seal.error} />
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, alignItems: 'flex-start' }}>
        <Act
          kind="outlined"
          why={d.picks.length ? undefined : 'Pick something first.'}
          busy={check.isPending}
          onClick={() => check.mutate()}
        >
          Check every pick at the source
        </Act>
        {d.checkedAt && (
          <Typography variant="caption" color="textSecondary">
            Checked <Time at={d.checkedAt} />
          </Typography>
        )}
        <TextField size="small" label="Number" value={number} onChange={(e) => setNumber(e.target.value)} />
        <TextField size="small" label="Title" value={title} onChange={(e) => setTitle(e.target.value)} fullWidth />
        <TextField
          size="small"
          multiline
          label="Needs, one a line (sailings >=1.8.0, server/database >=15.0.0); empty: as before"
          value={needs}
          onChange={(e) => setNeeds(e.target.value)}
          fullWidth
        />
        <TextField
          size="small"
          label="Done for (FERRY-118, or an https address)"
          value={tasks}
          onChange={(e) => setTasks(e.target.value)}
          fullWidth
        />
        <Act why={why} busy={seal.isPending} onClick={() => seal.mutate()}>
          Seal {d.application} {number}
        </Act>
      </Box>
    </Panel>
  );
}
