import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { Act, Panel, Problem, Rows, State, Time } from '../../../shared/ui/parts';
import {
  changeSite,
  checkSite,
  connections,
  makeReady,
  saveConnection,
  newSite,
  useSetUp,
  type Connection,
  type Site,
  type Stage,
} from '../api';
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
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {s.role}: {s.role === 'development' ? t.source : t.facts(s)}
      </Typography>
      <Problem error={check.error ?? all.error} />
      {s.sites.map((site) => (
        <Box key={site.key} sx={{ mb: 1, display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <b>
            {s.key}/{site.key}
          </b>
          <Typography component="span" variant="body2">
            {site.targets
              .map((x) => (x.schemas.length > 0 ? t.stagePanel.schemas(x.key, x.schemas.join(', ')) : x.key))
              .join('; ')}
          </Typography>
          <Act
            kind="outlined"
            why={may}
            busy={check.isPending && check.variables?.site === site.key}
            onClick={() => check.mutate({ stage: s.key, site: site.key })}
          >
            {t.test(`${s.key}/${site.key}`)}
          </Act>
        </Box>
      ))}
      {(all.data ?? []).map((c) => (
        <Found key={c.name} c={c} />
      ))}
      <Box
        component="details"
        open={s.sites.length === 0}
        sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}
      >
        <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>
          {t.setUp(s.name)}
        </Box>
        <Box sx={{ pl: 2, pt: 1 }}>
          <ConnectionForm key={`connection-${all.data?.length}`} stage={s.key} />
          <SiteForm key={`site-${s.sites.length}`} s={s} names={all.data ?? []} />
          {s.sites.map((site) => (
            <SiteForm key={JSON.stringify(site)} s={s} names={all.data ?? []} old={site} />
          ))}
          <StageForm
            key={`stage-${s.revision}`}
            title={t.changeStage(s.name)}
            save={t.save.changes(s.name)}
            stage={s}
            keyed={false}
          />
        </Box>
      </Box>
    </Panel>
  );
}

/** A connection with the probes of its last test; red ones are open. */
function Found({ c }: { c: Connection }) {
  return (
    <Box
      component="details"
      sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}
      open={c.test ? !c.test.good : false}
    >
      <Box component="summary" sx={{ cursor: 'pointer', overflowWrap: 'anywhere' }}>
        <b>{c.name}</b> {c.sort} {c.leadsTo}
        {c.lentTo.length > 0 && t.stagePanel.lentTo(c.lentTo.join(', '))}
        {c.sort !== 'directory' && (
          <>
            ,{' '}
            {c.hasSecret ? (
              <>
                {t.stagePanel.secretSet} <Time at={c.secretSetAt} /> {t.stagePanel.by} {c.secretSetBy}
              </>
            ) : (
              t.noPassword
            )}
          </>
        )}{' '}
        ·{' '}
        {c.test ? (
          <>
            <State word={c.test.good ? 'good' : 'failed'} /> <Time at={c.test.at} />
          </>
        ) : (
          t.notTested
        )}
      </Box>
      {c.test && (
        <Rows label={t.stagePanel.testOf(c.name)} heads={t.probeHeads}>
          {c.test.probes.map((p) => (
            <tr key={p.name}>
              <td>{p.name}</td>
              <td>
                <State word={p.good ? 'good' : 'failed'} />
              </td>
              <td style={{ overflowWrap: 'anywhere' }}>{p.found}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{p.advice}</td>
            </tr>
          ))}
        </Rows>
      )}
      {c.sort === 'directory' && c.test?.probes.some((p) => p.name === 'can be exchanged' && !p.good) && (
        <MakeReady c={c} />
      )}
      <ConnectionForm key={c.revision} stage={c.stage} old={c} />
    </Box>
  );
}

/** A plain folder becomes a link to a tree; its cost is said before. */
function MakeReady({ c }: { c: Connection }) {
  const act = useSetUp(makeReady, ['connections']);
  const may = useMissing('operate', c.stage, '*');
  return (
    <Box sx={{ my: 1.5 }}>
      <Typography variant="body2" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.readyCost}
      </Typography>
      <Problem error={act.error} />
      <Act kind="outlined" why={may} busy={act.isPending} onClick={() => act.mutate({ stage: c.stage, name: c.name })}>
        {t.save.ready}
      </Act>
    </Box>
  );
}

function ConnectionForm({ stage, old }: { stage: string; old?: Connection }) {
  const [c, set] = useState({
    name: old?.name ?? '',
    sort: old?.sort ?? 'postgresql',
    host: old?.host ?? '',
    port: String(old?.port || 5432),
    database: old?.database ?? '',
    path: old?.path ?? '',
    account: old?.account ?? '',
    tls: old?.tls ?? 'verify-full',
    mode: old?.options.mode ?? 'exchange',
    lentTo: old?.lentTo.join(', ') ?? '',
    signIn: old?.options['sign-in'] ?? 'token',
    authority: old?.options.authority ?? '',
    longest: old?.options['longest-path'] ?? '',
  });
  const [password, setPassword] = useState('');
  const act = useSetUp(saveConnection, ['connections']);
  const may = useMissing('operate', stage, '*');
  const directory = c.sort === 'directory';
  const database = c.sort === 'postgresql';
  const lacks = directory ? !c.path : !c.host || (database && (!c.database || !c.account));
  const why =
    may ??
    (!c.name
      ? t.need.name
      : lacks
        ? directory
          ? t.need.folder
          : database
            ? t.need.database
            : t.need.host
        : undefined);
  const text = (key: Exclude<keyof typeof c, 'sort' | 'mode' | 'signIn'>, width?: number) => (
    <Text
      label={key === 'path' && !directory ? t.label.prefix : t.label[key]}
      value={c[key]}
      width={width}
      set={(v) => set({ ...c, [key]: v })}
    />
  );
  const options: Record<string, string> = directory
    ? { mode: c.mode, ...(c.longest ? { 'longest-path': c.longest } : {}) }
    : {
        ...(c.sort === 'host' && c.signIn === 'certificate' ? { 'sign-in': 'certificate' } : {}),
        ...(c.authority && c.tls !== 'disable' ? { authority: c.authority } : {}),
      };
  const body = {
    name: c.name,
    sort: c.sort,
    host: directory ? '' : c.host,
    port: directory ? 0 : Number(c.port),
    database: database ? c.database : '',
    path: c.path,
    account: database ? c.account : '',
    tls: directory ? 'disable' : c.tls,
    options,
    lentTo: c.lentTo.split(/[\s,]+/).filter(Boolean),
    secret: password === '' ? undefined : password,
    revision: old?.revision ?? 0,
  };
  return (
    <Form
      title={old ? t.change : t.newConnection}
      hint={directory ? t.folderHint : t.secretHint}
      error={act.error}
      busy={act.isPending}
      why={why}
      save={t.save.connection}
      onSave={() => act.mutate({ stage, body })}
    >
      {!old && text('name')}
      {!old && (
        <Choice label={t.label.sort} value={c.sort} of={Object.entries(t.sorts)} set={(sort) => set({ ...c, sort })} />
      )}
      {directory ? (
        <>
          {text('path', 360)}
          <Choice
            label={t.label.mode}
            value={c.mode}
            of={Object.entries(t.modes)}
            width={300}
            set={(mode) => set({ ...c, mode })}
          />
          {text('longest')}
        </>
      ) : (
        <>
          {text('host')}
          {text('port', 100)}
          {database ? text('database') : text('path')}
          {database && text('account')}
          <Choice
            label={t.label.tls}
            value={c.tls}
            of={['verify-full', 'require', 'disable'].map((x) => [x, x])}
            set={(tls) => set({ ...c, tls })}
          />
          {c.sort === 'host' && (
            <Choice
              label={t.label.signIn}
              value={c.signIn}
              of={Object.entries(t.signIns)}
              width={220}
              set={(signIn) => set({ ...c, signIn })}
            />
          )}
          {c.tls !== 'disable' && text('authority', 300)}
          <Text
            label={
              database
                ? old?.hasSecret
                  ? t.label.passwordKept
                  : t.label.password
                : c.signIn === 'certificate'
                  ? old?.hasSecret
                    ? t.label.keyKept
                    : t.label.key64
                  : old?.hasSecret
                    ? t.label.tokenKept
                    : t.label.token
            }
            type="password"
            width={300}
            value={password}
            set={setPassword}
          />
        </>
      )}
      {text('lentTo', 260)}
    </Form>
  );
}

/** A new site, or where the targets of one that is there lead. */
function SiteForm({ s, names, old }: { s: Stage; names: Connection[]; old?: Site }) {
  const was = (sort: string) => old?.targets.find((x) => x.sort === sort);
  const base = was('postgresql');
  const [key, setKey] = useState(old?.key ?? '');
  const [schemas, setSchemas] = useState(base?.schemas.join(', ') ?? '');
  const [accounts, setAccounts] = useState({
    looking: base?.looking ?? '',
    changing: base?.changing ?? '',
    scratch: base?.scratch ?? '',
  });
  const [others, setOthers] = useState({
    directory: was('directory')?.looking ?? '',
    host: was('host')?.looking ?? '',
  });
  const act = useSetUp(old ? changeSite : newSite, ['stages', 'connections', 'standing', 'promotions']);
  const may = useMissing('administer', s.key, '*');
  const list = schemas
    .split(',')
    .map((x) => x.trim())
    .filter(Boolean);
  const database = accounts.looking !== '';
  const why =
    may ??
    (!key
      ? t.need.key
      : !database && !others.directory && !others.host
        ? t.need.target
        : database && list.length === 0
          ? t.need.schemas
          : undefined);
  const of = (sort: string): [string, string][] => [
    ['', t.label.none],
    ...names.filter((n) => n.sort === sort).map((n): [string, string] => [n.name, n.name]),
  ];
  const source = s.role === 'development';
  const whole = (name: string, sort: string, connection: string) => ({
    id: was(sort)?.id,
    key: was(sort)?.key ?? name,
    sort,
    schemas: [],
    looking: connection,
    changing: source ? '' : connection,
    scratch: '',
  });
  const targets = [
    ...(database
      ? [{ id: base?.id, key: base?.key ?? 'database', sort: 'postgresql', schemas: list, ...accounts }]
      : []),
    ...(others.directory ? [whole('files', 'directory', others.directory)] : []),
    ...(others.host ? [whole('host', 'host', others.host)] : []),
  ];
  return (
    <Form
      title={old ? t.changeSite(`${s.key}/${old.key}`) : t.newSite}
      hint={old ? t.changeSiteHint : t.siteHint}
      error={act.error}
      busy={act.isPending}
      why={why}
      save={old ? t.save.siteTargets(`${s.key}/${old.key}`) : t.save.site}
      onSave={() => act.mutate({ stage: s.key, site: { key, targets } })}
    >
      {!old && <Text label={t.label.site} value={key} set={setKey} />}
      {(['looking', 'changing', 'scratch'] as const).map((use) => (
        <Choice
          key={use}
          label={t.label[use]}
          value={accounts[use]}
          of={of('postgresql')}
          width={140}
          set={(v) => setAccounts({ ...accounts, [use]: v })}
        />
      ))}
      <Text label={t.label.schemas} value={schemas} set={setSchemas} width={240} />
      {(['directory', 'host'] as const).map((sort) => (
        <Choice
          key={sort}
          label={t.sorts[sort] ?? sort}
          value={others[sort]}
          of={of(sort)}
          set={(v) => setOthers({ ...others, [sort]: v })}
        />
      ))}
    </Form>
  );
}
