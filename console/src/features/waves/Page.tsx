import { Alert, Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { client, newKey, unwrap } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { AgreeActs, type Said } from '../../shared/ui/AgreeActs';
import { Choice } from '../../shared/ui/fields';
import { Act, Fingerprint, Go, Loading, PageTitle, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { PlanCells } from '../../shared/ui/PartCells';
import { useTakesAway } from '../../shared/ui/TakesAway';
import { wave, type Part, type Waves } from './api';
import { t } from './texts';

/** One version on its way to several sites: wave by wave, with what each site has come to. */
export default function WavePage() {
  const { number = '' } = useParams();
  const q = useQuery(wave(number));
  if (q.error && !q.data) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={t.loading(number)} />;
  const w = q.data;
  return (
    <>
      <PageTitle
        title={t.into(w.application, w.version, w.stageName)}
        production={w.production}
        note={
          <>
            {t.prepared(w.number, w.preparedBy)}
            <Time at={w.preparedAt} />
            {t.fingerprint}
            <Fingerprint value={w.fingerprint} />
          </>
        }
      >
        <State word={w.state} strong />
      </PageTitle>
      {w.sentence && (
        <Alert severity={w.state === 'stopped' ? 'warning' : 'info'} sx={{ mb: 2, overflowWrap: 'anywhere' }}>
          {w.sentence}
        </Alert>
      )}
      <Panel>
        {!w.sentence && (
          <Typography sx={{ fontSize: 16, fontWeight: 600 }}>{t.have(w.there, w.sites, w.version)}</Typography>
        )}
        <Typography color="textSecondary" sx={{ mb: 1 }}>
          {t.sentence(w.sites, w.waves.length)} {t.between[w.between]}{' '}
          {w.minutes > 0 && w.between === 'go-on' && t.pause(w.minutes)} {t.failures(w.failures)}
        </Typography>
        {w.left.map((l) => (
          <Typography key={l.site}>{t.left(l.site, l.by, l.reason, l.owed)}</Typography>
        ))}
        {w.state === 'waiting' && <Waiting w={w} />}
      </Panel>
      {w.waves.map((parts, n) => (
        <Panel
          key={n}
          title={`${t.wave(n + 1)}${n === w.at && (w.state === 'running' || w.state === 'waiting') ? `, ${t.now}` : ''}`}
          production={w.production}
        >
          <Rows label={t.wave(n + 1)} heads={t.siteHeads} even>
            {parts.map((p) => (
              <Site key={p.site} p={p} />
            ))}
          </Rows>
        </Panel>
      ))}
      {w.state === 'open' && <Actions w={w} />}
      {w.may.leave?.allowed && <Leave w={w} />}
    </>
  );
}

function Site({ p }: { p: Part }) {
  return (
    <tr>
      <td>{p.site}</td>
      <td>
        <State word={t.came[p.came] ?? p.state} />
      </td>
      <td>{p.present}</td>
      <td>
        <Go to={`/promotions/${p.promotion}`}>{p.promotion}</Go>
      </td>
      <PlanCells p={p} />
      <td>{p.run && <Go to={`/runs/${p.run}`}>{p.run}</Go>}</td>
    </tr>
  );
}

/** An act on all of it: sent once, and the answer shown. */
function useWaveAct<V = void>(number: string, act: (value: V) => Promise<Waves>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    networkMode: 'always',
    retry: 0,
    onSuccess: (next) => {
      queries.setQueryData(['waves', number], next);
      void queries.invalidateQueries({ queryKey: ['promotions'] });
    },
    onError: () => void queries.invalidateQueries({ queryKey: ['waves', number] }),
  });
}

function Waiting({ w }: { w: Waves }) {
  const goOn = useWaveAct(w.number, () =>
    unwrap(client.POST('/api/v1/waves/{number}/go-on', { params: { path: { number: w.number } } })),
  );
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography sx={{ mb: 1 }}>
        {w.goesOnAt ? (
          <>
            {t.waitsUntil} <Time at={w.goesOnAt} />
          </>
        ) : (
          t.waits
        )}
      </Typography>
      <Problem error={goOn.error} />
      <Act why={whyNot(w.may['go-on'])} busy={goOn.isPending} onClick={() => goOn.mutate()}>
        {t.goOn}
      </Act>
    </Box>
  );
}

function Actions({ w }: { w: Waves }) {
  const [key] = useState(newKey);
  const away = useTakesAway(
    w.waves.flat().flatMap((p) => p.takesAway.map((x) => `${p.site}: ${x}`)),
    w.application,
  );
  const params = { path: { number: w.number } };
  const acts = {
    approve: useWaveAct(w.number, (body: Said) =>
      unwrap(client.POST('/api/v1/waves/{number}/approve', { params, body })),
    ),
    reject: useWaveAct(w.number, (body: Said) =>
      unwrap(client.POST('/api/v1/waves/{number}/reject', { params, body })),
    ),
    start: useWaveAct(w.number, ({ fingerprint }: Said) =>
      unwrap(
        client.POST('/api/v1/waves/{number}/start', {
          params,
          body: { fingerprint },
          headers: { 'Idempotency-Key': key },
        }),
      ),
    ),
    withdraw: useWaveAct(w.number, ({ comment }: Said) =>
      unwrap(client.POST('/api/v1/waves/{number}/withdraw', { params, body: { reason: comment } })),
    ),
  };
  return (
    <Panel production={w.production}>
      {w.closed.length > 0 && (
        <>
          <Typography variant="h3">{t.open}</Typography>
          <ul style={{ margin: '0 0 12px', paddingLeft: 18 }}>
            {w.closed.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </>
      )}
      <AgreeActs
        plans={w.fullFingerprint}
        may={w.may}
        away={away}
        acts={acts}
        words={{
          comment: t.comment,
          sayWhy: t.sayWhy,
          changed: t.changed,
          approve: t.approve(w.number),
          reject: t.reject(w.number),
          start: t.start(w.number),
          withdraw: t.withdraw(w.number),
        }}
      />
    </Panel>
  );
}

/** A site that cannot be reached, or must wait, holds nobody up. */
function Leave({ w }: { w: Waves }) {
  const [site, setSite] = useState('');
  const [reason, setReason] = useState('');
  const leave = useWaveAct(w.number, () =>
    unwrap(
      client.POST('/api/v1/waves/{number}/leave', { params: { path: { number: w.number } }, body: { site, reason } }),
    ),
  );
  const left = w.left.map((l) => l.site);
  const open = w.waves.flat().filter((p) => p.came === 'not-yet' && p.state !== 'running' && !left.includes(p.site));
  if (open.length === 0) return null;
  return (
    <Panel title={t.leaveTitle}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        {t.leaveHint}
      </Typography>
      <Problem error={leave.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Choice label={t.site} value={site} of={open.map((p) => [p.site, p.site])} width={220} set={setSite} />
        <TextField size="small" label={t.sayWhy} value={reason} onChange={(e) => setReason(e.target.value)} />
        <Act
          kind="outlined"
          why={!site ? t.chooseSite : reason.trim() ? undefined : t.sayWhy}
          busy={leave.isPending}
          onClick={() => leave.mutate()}
        >
          {t.leave(site)}
        </Act>
      </Box>
    </Panel>
  );
}
