import { Box, LinearProgress, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Panel, Problem, State } from '../../shared/ui/parts';
import { t } from './texts';

/** Checks every entry, and every head of the history that targets, packages and files hold. */
export function Verify() {
  const may = useMissing('audit', '*', '*');
  const [kept, setKept] = useState<string>();
  const check = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/history/verify', { body: { head: kept } })),
  });
  const save = useMutation({
    mutationFn: () => unwrap(client.GET('/api/v1/history/head')),
    onSuccess: (h) => {
      const link = document.createElement('a');
      link.href = URL.createObjectURL(new Blob([h.signed + '\n'], { type: 'application/json' }));
      link.download = `history-head-${h.number}.json`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  const far = useQuery({
    queryKey: ['history', 'verifying'],
    queryFn: () => unwrap(client.GET('/api/v1/history/verify/progress')),
    enabled: check.isPending,
    refetchInterval: 1000,
    gcTime: 0,
  });
  const c = check.isPending ? undefined : check.data;
  return (
    <Panel title={t.title} action={c && <State word={c.whole ? 'good' : 'failed'} strong />}>
      <Problem error={check.error ?? save.error} />
      {check.isPending && far.data && far.data.of > 0 && (
        <Box role="status" sx={{ mb: 1.5 }}>
          <Typography>{t.soFar(far.data.checked, far.data.of)}</Typography>
          <LinearProgress
            variant="determinate"
            aria-label={t.verifying}
            value={(100 * far.data.checked) / far.data.of}
          />
        </Box>
      )}
      {c && (
        <Box role="status" sx={{ mb: 1.5 }}>
          <Typography>{c.broken === 0 ? t.whole(c.entries) : t.broken(c.broken)}</Typography>
          <Typography sx={{ overflowWrap: 'anywhere' }}>
            {t.head} {c.head}
          </Typography>
          <Typography>
            {c.anchors.length === 0
              ? t.noAnchors
              : t.anchors(c.anchors.filter((a) => a.holds).length, c.anchors.length)}
          </Typography>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {c.anchors
              .filter((a) => !a.holds)
              .map((a) => (
                <li key={a.where}>
                  {a.where}, {t.entry(a.number)}: {a.why}
                </li>
              ))}
            {c.silent.map((s) => (
              <li key={s}>
                {t.silent}: {s}
              </li>
            ))}
          </ul>
        </Box>
      )}
      <Box component="label" sx={{ display: 'block', mb: 1.5 }}>
        <Typography component="span" variant="body2" sx={{ mr: 1 }}>
          {t.given}
        </Typography>
        <input type="file" onChange={(e) => void e.target.files?.[0]?.text().then(setKept)} />
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Act kind="outlined" why={may} busy={check.isPending} onClick={() => check.mutate()}>
          {t.verify}
        </Act>
        <Act kind="outlined" why={may} busy={save.isPending} onClick={() => save.mutate()}>
          {t.save}
        </Act>
        <Typography variant="caption" color="textSecondary">
          {t.saveHint}
        </Typography>
      </Box>
    </Panel>
  );
}
