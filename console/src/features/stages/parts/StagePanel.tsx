import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { Act, Panel, Problem, Rows, State, Time } from '../../../shared/ui/parts';
import { checkSite, connections, saveConnection, saveStage, useSetUp, type Connection, type Stage } from '../api';
import { t } from '../texts';
import { Choice, Form, Text } from './Form';
import { StageForm } from './NewStage';

/** One stage with its sites, its connections and what their tests found. */
export function StagePanel({ s }: { s: Stage }) {
  const all = useQuery(connections(s.key));
  const check = useSetUp(checkSite, ['connections', 'standing', 'promotions']);
  const may = useMissing('operate', s.key, '*');
  return (
    <Panel title={s.name} production={s.role === 'production'}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>{s.role}: {s.role === 'development' ? t.source : t.facts(s)}</Typography>
      <Problem error={check.error ?? all.error} />
      {s.sites.map((site) => (
        <Box key={site.key} sx={{ mb: 1, display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <b>{s.key}/{site.key}</b>
          <Typography component="span" variant="body2">{site.targets.map((x) => `${x.key}: schemas ${x.schemas.join(', ')}`).join('; ')}</Typography>
          <Act kind="outlined" why={may} busy={check.isPending && check.variables?.site === site.key} onClick={() => check.mutate({ stage: s.key, site: site.key })}>{t.test(`${s.key}/${site.key}`)}</Act>
        </Box>
      ))}
      {(all.data ?? []).map((c) => <Found key={c.name} c={c} />)}
      <Box component="details" open={s.sites.length === 0} sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}>
        <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>{t.setUp(s.name)}</Box>
        <Box sx={{ pl: 2, pt: 1 }}>
          <ConnectionForm key={`connection-${all.data?.length}`} stage={s.key} />
          <SiteForm key={`site-${s.sites.length}`} s={s} names={(all.data ?? []).map((c) => c.name)} />
          <StageForm key={`stage-${s.revision}`} title={t.changeStage(s.name)} save={t.save.changes(s.name)} stage={s} keyed={false} />
        </Box>
      </Box>
    </Panel>
  );
}

/** A connection with the probes of its last test; red ones are open. */
function Found({ c }: { c: Connection }) {
  return (
    <Box component="details" sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }} open={c.test ? !c.test.good : false}>
      <Box component="summary" sx={{ cursor: 'pointer', overflowWrap: 'anywhere' }}>
        <b>{c.name}</b> {t.connectionOf(c.account, c.host, c.port, c.database)}, {c.hasSecret ? <>password set <Time at={c.secretSetAt} /> by {c.secretSetBy}</> : t.noPassword} · {c.test ? <><State word={c.test.good ? 'good' : 'failed'} /> <Time at={c.test.at} /></> : t.notTested}
      </Box>
      {c.test && (
        <Rows label={`Test of ${c.name}`} heads={t.probeHeads}>
          {c.test.probes.map((p) => <tr key={p.name}><td>{p.name}</td><td><State word={p.good ? 'good' : 'failed'} /></td><td style={{ overflowWrap: 'anywhere' }}>{p.found}</td><td style={{ overflowWrap: 'anywhere' }}>{p.advice}</td></tr>)}
        </Rows>
      )}
      <ConnectionForm key={c.revision} stage={c.stage} old={c} />
    </Box>
  );
}

function ConnectionForm({ stage, old }: { stage: string; old?: Connection }) {
  const [c, set] = useState({ name: old?.name ?? '', host: old?.host ?? '', port: String(old?.port ?? 5432), database: old?.database ?? '', account: old?.account ?? '', tls: old?.tls ?? 'verify-full' });
  const [password, setPassword] = useState('');
  const act = useSetUp(saveConnection, ['connections']);
  const may = useMissing('operate', stage, '*');
  const why = may ?? (!c.name ? t.need.name : !c.host || !c.database || !c.account ? t.need.database : undefined);
  const text = (key: keyof typeof c, width?: number) => <Text label={t.label[key]} value={c[key]} width={width} set={(v) => set({ ...c, [key]: v })} />;
  return (
    <Form
      title={old ? t.change : t.newConnection} hint={t.secretHint} error={act.error} busy={act.isPending} why={why} save={t.save.connection}
      onSave={() => act.mutate({ stage, body: { ...c, port: Number(c.port), secret: password === '' ? undefined : password, revision: old?.revision ?? 0 } })}
    >
      {!old && text('name')}
      {text('host')}
      {text('port', 100)}
      {text('database')}
      {text('account')}
      <Choice label={t.label.tls} value={c.tls} of={['verify-full', 'require', 'disable'].map((x) => [x, x])} set={(tls) => set({ ...c, tls })} />
      <Text label={old?.hasSecret ? t.label.passwordKept : t.label.password} type="password" width={300} value={password} set={setPassword} />
    </Form>
  );
}

function SiteForm({ s, names }: { s: Stage; names: string[] }) {
  const [key, setKey] = useState('');
  const [schemas, setSchemas] = useState('');
  const [accounts, setAccounts] = useState({ looking: '', changing: '', scratch: '' });
  const act = useSetUp(saveStage, ['stages']);
  const may = useMissing('administer', '*', '*');
  const list = schemas.split(',').map((x) => x.trim()).filter(Boolean);
  const why = may ?? (!key ? t.need.key : list.length === 0 ? t.need.schemas : !accounts.looking ? t.need.looking : undefined);
  const of: [string, string][] = [['', t.label.none], ...names.map((n): [string, string] => [n, n])];
  const site = { key, targets: [{ key: 'database', sort: 'postgresql', schemas: list, ...accounts }] };
  return (
    <Form title={t.newSite} hint={t.siteHint} error={act.error} busy={act.isPending} why={why} save={t.save.site} onSave={() => act.mutate({ ...s, sites: [...s.sites.filter((x) => x.key !== key), site] })}>
      <Text label={t.label.site} value={key} set={setKey} />
      <Text label={t.label.schemas} value={schemas} set={setSchemas} width={240} />
      {(['looking', 'changing', 'scratch'] as const).map((use) => <Choice key={use} label={t.label[use]} value={accounts[use]} of={of} width={140} set={(v) => setAccounts({ ...accounts, [use]: v })} />)}
    </Form>
  );
}
