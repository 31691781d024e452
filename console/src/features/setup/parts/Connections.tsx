import { Box, Typography } from '@mui/material';
import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { Act, Go, Problem, Rows, State, Time } from '../../../shared/ui/parts';
import { makeReady, saveConnection, useSetUp, type Connection } from '../api';
import { t } from '../texts';
import { Form } from './Form';
import { Choice, Text } from '../../../shared/ui/fields';

/** A connection with the probes of its last test; red ones are open. */
export function Found({ c, whole }: { c: Connection; /** Whether it stands alone on its page. */ whole?: boolean }) {
  return (
    <Box
      component="details"
      sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}
      open={whole ?? (c.test ? !c.test.good : false)}
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
      {!whole && <Go to={`/setup/connections/${c.stage}/${c.name}`}>{t.stagePanel.changesOf(c.name)}</Go>}
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

export function ConnectionForm({ stage, old }: { stage: string; old?: Connection }) {
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
