import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Act, Empty, Go, Loading, PageTitle, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';

type Stage = Schemas['StageView'];

/** Stages with their sites, connections and tests; applications and adoption. */
export default function StagesPage() {
  const stages = useQuery({ queryKey: ['stages'], queryFn: () => unwrap(client.GET('/api/v1/stages')) });
  const apps = useQuery({ queryKey: ['applications'], queryFn: () => unwrap(client.GET('/api/v1/applications')) });
  return (
    <>
      <PageTitle title="Stages" note="Where versions go, how they are reached, and whether that works" />
      <Problem error={stages.error} />
      {!stages.data ? <Loading what="stages" /> : stages.data.length === 0 ? <Empty>No stage is registered. Begin with development, test and production.</Empty> : stages.data.map((s) => <StagePanel key={s.key} s={s} />)}
      <NewStage />
      <Panel title="Applications">
        {(apps.data ?? []).length === 0 ? <Empty>No application is registered. An administrator does it by plenzo app new.</Empty> : (
          <Rows label="Applications" heads={['Application', 'Name', 'Owner', 'Schema', 'Path', 'Adopt']}>
            {(apps.data ?? []).map((a) => <tr key={a.key}><td><b>{a.key}</b></td><td>{a.name}</td><td>{a.owner}</td><td>{a.schema}</td><td>{a.path}</td><td><Go to={`/applications/${a.key}/adopt`}>Adopt what a site holds</Go></td></tr>)}
          </Rows>
        )}
      </Panel>
    </>
  );
}

function StagePanel({ s }: { s: Stage }) {
  const queries = useQueryClient();
  const connections = useQuery({ queryKey: ['connections', s.key], queryFn: () => unwrap(client.GET('/api/v1/connections', { params: { query: { stage: s.key } } })) });
  const check = useMutation({
    mutationFn: (site: string) => unwrap(client.POST('/api/v1/sites/{stage}/{site}/check', { params: { path: { stage: s.key, site } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['connections', s.key] }),
  });
  return (
    <Panel title={s.name} production={s.role === 'production'}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {s.role}{s.role === 'development' ? ': people edit here' : `; ${plural(s.approvals, 'approval', 'approvals')}; ${s.needsVerdict ? 'judged good before; ' : ''}${s.needsProof ? 'backups proven by restoring; ' : ''}times in ${s.zone}`}
      </Typography>
      <Problem error={check.error ?? connections.error} />
      {s.sites.map((site) => (
        <Box key={site.key} sx={{ mb: 1, display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <b>{s.key}/{site.key}</b>
          <Typography component="span" variant="body2">{site.targets.map((t) => `${t.key}: schemas ${t.schemas.join(', ')}`).join('; ')}</Typography>
          <Act kind="outlined" busy={check.isPending} onClick={() => check.mutate(site.key)}>Test the connections of {s.key}/{site.key}</Act>
        </Box>
      ))}
      {(connections.data ?? []).map((c) => <ConnectionTest key={c.name} c={c} />)}
    </Panel>
  );
}

function ConnectionTest({ c }: { c: Schemas['ConnectionView'] }) {
  return (
    <Box component="details" sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }} open={c.test ? !c.test.good : false}>
      <Box component="summary" sx={{ cursor: 'pointer' }}>
        <b>{c.name}</b> {c.account} at {c.host}:{c.port}/{c.database}, {c.hasSecret ? <>password set <Time at={c.secretSetAt} /> by {c.secretSetBy}</> : 'no password'} · {c.test ? <><State word={c.test.good ? 'good' : 'failed'} /> <Time at={c.test.at} /></> : 'Not tested: nothing can be promoted through it'}
      </Box>
      {c.test && (
        <Rows label={`Test of ${c.name}`} heads={['Probe', 'Result', 'Found', 'What to do']}>
          {c.test.probes.map((p) => <tr key={p.name}><td>{p.name}</td><td><State word={p.good ? 'good' : 'failed'} /></td><td style={{ overflowWrap: 'anywhere' }}>{p.found}</td><td style={{ overflowWrap: 'anywhere' }}>{p.advice}</td></tr>)}
        </Rows>
      )}
    </Box>
  );
}

function NewStage() {
  const queries = useQueryClient();
  const [key, setKey] = useState('');
  const [name, setName] = useState('');
  const [role, setRole] = useState('test');
  const [approvals, setApprovals] = useState(0);
  const save = useMutation({
    mutationFn: () => unwrap(client.PUT('/api/v1/stages/{key}', { params: { path: { key } }, body: { key, name: name || key, role, position: 9, zone: 'UTC', approvals, needsVerdict: role === 'production', needsProof: false, sites: [], revision: 0 } })),
    onSuccess: () => { setKey(''); setName(''); void queries.invalidateQueries({ queryKey: ['stages'] }); },
  });
  return (
    <Panel title="Register a stage">
      <Problem error={save.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <TextField size="small" label="Key" value={key} onChange={(e) => setKey(e.target.value)} />
        <TextField size="small" label="Name" value={name} onChange={(e) => setName(e.target.value)} />
        <TextField select size="small" label="Role" value={role} onChange={(e) => { setRole(e.target.value); if (e.target.value === 'production' && approvals < 1) setApprovals(1); }} sx={{ minWidth: 140 }}>
          {['development', 'test', 'production'].map((r) => <MenuItem key={r} value={r}>{r}</MenuItem>)}
        </TextField>
        <TextField size="small" type="number" label="Approvals" value={approvals} onChange={(e) => setApprovals(Number(e.target.value))} sx={{ width: 110 }} />
        <Act kind="outlined" why={key ? undefined : 'Give it a key.'} busy={save.isPending} onClick={() => save.mutate()}>Register the stage</Act>
      </Box>
      <Typography variant="caption" color="textSecondary">Its sites and connections are added by plenzo connection new and plenzo site new.</Typography>
    </Panel>
  );
}
