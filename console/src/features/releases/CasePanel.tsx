import { whyNot } from '../../shared/data/rights';
import { Alert, Box, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, newKey, unwrap } from '../../shared/data/api';
import { Act, Fingerprint, Go, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { PlanCells } from '../../shared/ui/PartCells';
import { TakesAway, useTakesAway } from '../../shared/ui/TakesAway';
import type { Case, Release } from './api';
import { t } from './texts';

/** The release at one site: its members in order, who agreed, and what can be done now. */
export function CasePanel({ r, c }: { r: Release; c: Case }) {
  return (
    <Panel title={t.at(c.site)} production={c.production} action={<State word={c.state} strong />}>
      <Typography sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {c.sentence || t.sentence(c.members.length, c.site, c.skipped.length)}
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {t.casePanel.preparedBy(c.preparedBy)}
        <Time at={c.preparedAt} />
        {c.startedBy && t.casePanel.startedBy(c.startedBy)} {t.casePanel.fingerprint}{' '}
        <Fingerprint value={c.fingerprint} />
      </Typography>
      <Rows label={t.at(c.site)} heads={t.memberHeads}>
        {c.members.map((m, n) => (
          <tr key={m.promotion}>
            <td>{n + 1}</td>
            <td>
              {m.version.replace('@', ' ')}
              <Typography variant="caption" component="div" color="textSecondary">
                {m.title}
              </Typography>
            </td>
            <td>{m.present}</td>
            <td>
              <Go to={`/promotions/${m.promotion}`}>{m.promotion}</Go>
            </td>
            <td>
              <State word={m.state} />
            </td>
            <PlanCells p={m} />
            <td>{m.run && <Go to={`/runs/${m.run}`}>{m.run}</Go>}</td>
          </tr>
        ))}
      </Rows>
      {c.skipped.length > 0 && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          {t.there}: {c.skipped.map((m) => m.replace('@', ' ')).join(', ')}
        </Typography>
      )}
      {c.closed.length > 0 && (
        <>
          <Typography variant="h3" sx={{ mt: 2 }}>
            {t.open}
          </Typography>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {c.closed.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </>
      )}
      {c.state === 'open' && <Actions r={r} c={c} />}
    </Panel>
  );
}

function Actions({ r, c }: { r: Release; c: Case }) {
  const queries = useQueryClient();
  const [comment, setComment] = useState('');
  const [key] = useState(newKey);
  const away = useTakesAway(
    c.members.flatMap((m) => m.takesAway.map((x) => `${m.version.replace('@', ' ')}: ${x}`)),
    r.key,
  );
  // what was on the screen first is what may be acted on: plans that come later are to be read first
  const [first, setFirst] = useState(c.fullFingerprint);
  if (!first && c.fullFingerprint) setFirst(c.fullFingerprint);
  const shown = first ?? '';
  const changed = Boolean(first && c.fullFingerprint && first !== c.fullFingerprint);
  const params = { path: { key: r.key } };
  const after = {
    networkMode: 'always' as const,
    retry: 0,
    onSuccess: (next: Release) => {
      queries.setQueryData(['releases', r.key], next);
      void queries.invalidateQueries({ queryKey: ['promotions'] });
    },
  };
  const body = { site: c.site, fingerprint: shown, comment };
  const approve = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/releases/{key}/approve', { params, body })),
    ...after,
  });
  const reject = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/releases/{key}/reject', { params, body })),
    ...after,
  });
  const start = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/releases/{key}/start', {
          params,
          body: { site: c.site, fingerprint: shown },
          headers: { 'Idempotency-Key': key },
        }),
      ),
    ...after,
  });
  const withdraw = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/releases/{key}/withdraw', { params, body: { site: c.site, reason: comment } })),
    ...after,
  });
  const moved = changed ? t.changed : undefined;
  return (
    <Box sx={{ mt: 3, pt: 2, borderTop: '1px solid var(--mui-palette-divider)' }}>
      <Problem error={approve.error ?? reject.error ?? start.error ?? withdraw.error} />
      {changed && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          {t.changed}
        </Alert>
      )}
      <TextField
        label={t.comment}
        value={comment}
        onChange={(e) => setComment(e.target.value)}
        multiline
        fullWidth
        size="small"
        sx={{ mb: 2, maxWidth: 560 }}
      />
      <Box sx={{ display: 'flex', flexDirection: 'column', alignItems: 'flex-start', gap: 1.5 }}>
        <Act why={moved ?? whyNot(c.may.approve)} busy={approve.isPending} onClick={() => approve.mutate()}>
          {t.approve(r.title, c.site)}
        </Act>
        <Act
          kind="outlined"
          why={moved ?? whyNot(c.may.approve) ?? (comment ? undefined : t.sayWhy)}
          busy={reject.isPending}
          onClick={() => reject.mutate()}
        >
          {t.reject(r.title, c.site)}
        </Act>
        <TakesAway of={away} />
        <Act
          kind={whyNot(c.may.start) ? 'outlined' : 'contained'}
          why={moved ?? whyNot(c.may.start) ?? away.why}
          busy={start.isPending}
          onClick={() => start.mutate()}
        >
          {t.start(r.title, c.site)}
        </Act>
        <Act
          kind="outlined"
          why={whyNot(c.may.withdraw) ?? (comment ? undefined : t.sayWhy)}
          busy={withdraw.isPending}
          onClick={() => withdraw.mutate()}
        >
          {t.withdraw(c.site)}
        </Act>
      </Box>
    </Box>
  );
}
