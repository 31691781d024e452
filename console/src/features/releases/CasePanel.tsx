import { Box, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, newKey, unwrap } from '../../shared/data/api';
import { AgreeActs, type Said } from '../../shared/ui/AgreeActs';
import { Fingerprint, Go, Panel, Rows, State, Time } from '../../shared/ui/parts';
import { PlanCells } from '../../shared/ui/PartCells';
import { useTakesAway } from '../../shared/ui/TakesAway';
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
  const [key] = useState(newKey);
  const away = useTakesAway(
    c.members.flatMap((m) => m.takesAway.map((x) => `${m.version.replace('@', ' ')}: ${x}`)),
    r.key,
  );
  const site = c.site;
  const params = { path: { key: r.key } };
  const after = {
    networkMode: 'always' as const,
    retry: 0,
    onSuccess: (next: Release) => {
      queries.setQueryData(['releases', r.key], next);
      void queries.invalidateQueries({ queryKey: ['promotions'] });
    },
  };
  const acts = {
    approve: useMutation({
      mutationFn: (said: Said) =>
        unwrap(client.POST('/api/v1/releases/{key}/approve', { params, body: { site, ...said } })),
      ...after,
    }),
    reject: useMutation({
      mutationFn: (said: Said) =>
        unwrap(client.POST('/api/v1/releases/{key}/reject', { params, body: { site, ...said } })),
      ...after,
    }),
    start: useMutation({
      mutationFn: ({ fingerprint }: Said) =>
        unwrap(
          client.POST('/api/v1/releases/{key}/start', {
            params,
            body: { site, fingerprint },
            headers: { 'Idempotency-Key': key },
          }),
        ),
      ...after,
    }),
    withdraw: useMutation({
      mutationFn: ({ comment }: Said) =>
        unwrap(client.POST('/api/v1/releases/{key}/withdraw', { params, body: { site, reason: comment } })),
      ...after,
    }),
  };
  return (
    <Box sx={{ mt: 3, pt: 2, borderTop: '1px solid var(--mui-palette-divider)' }}>
      <AgreeActs
        plans={c.fullFingerprint}
        may={c.may}
        away={away}
        acts={acts}
        words={{
          comment: t.comment,
          sayWhy: t.sayWhy,
          changed: t.changed,
          approve: t.approve(r.title, site),
          reject: t.reject(r.title, site),
          start: t.start(r.title, site),
          withdraw: t.withdraw(site),
        }}
      />
    </Box>
  );
}
