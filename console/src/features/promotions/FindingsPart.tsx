import { whyNot } from '../../shared/data/rights';
import { Box, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Act, Empty, Panel, Problem, State } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { useAct } from './acting';
import { t } from './texts';

/** Blockers first; each with what happens, where, the query that counted, and what to do. */
export function FindingsPart({ p }: { p: Promotion }) {
  const of = (s: string) => p.impact.findings.filter((f) => f.severity === s);
  return (
    <>
      <Typography sx={{ mb: 2 }}>
        <b>
          {plural(of('blocker').length, 'blocker', 'blockers')}, {plural(of('risk').length, 'risk', 'risks')},{' '}
          {plural(of('note').length, 'note', 'notes')}.
        </b>
        {t.findingsPart.checksRan(p.impact.checks)}
      </Typography>
      {p.impact.findings.length === 0 && <Empty>{t.findingsPart.noFindingsChecksRanNone(p.impact.checks)}</Empty>}
      {['blocker', 'risk', 'note'].flatMap(of).map((f) => (
        <Finding key={f.id} p={p} f={f} />
      ))}
    </>
  );
}

function Finding({ p, f }: { p: Promotion; f: Schemas['FindingView'] }) {
  const number = p.number;
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const accept = useAct(number, () =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/accept-risk', {
        params: { path: { number } },
        body: { finding: f.id, reason, until },
      }),
    ),
  );
  const why = whyNot(p.may['accept-risk'])
    ? whyNot(p.may['accept-risk'])
    : !reason
      ? t.findingsPart.giveAReason
      : !until
        ? t.findingsPart.sayUntilWhichDay
        : undefined;
  return (
    <Panel>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'baseline' }}>
        <State word={f.severity} strong />
        <Typography sx={{ fontWeight: 600, flex: 1, minWidth: 200, overflowWrap: 'anywhere' }}>{f.sentence}</Typography>
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ overflowWrap: 'anywhere' }}>
        {t.findingsPart.at(f.rule, f.place)}
        {f.built && t.findingsPart.elsewhere(f.built)}
        {f.count > 0 && (
          <>
            {t.findingsPart.countedAnApprovalHoldsUp(
              f.count.toLocaleString('en-GB'),
              f.ceiling.toLocaleString('en-GB'),
            )}
          </>
        )}
      </Typography>
      {f.examples.length > 0 && (
        <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
          {t.findingsPart.forExample(f.examples.join('; '))}
        </Typography>
      )}
      {f.advice && <Typography variant="body2">{t.findingsPart.whatToDo(f.advice)}</Typography>}
      {f.query && (
        <Box component="details" sx={{ mt: 1, fontSize: 12 }}>
          <summary>{t.findingsPart.theQueryThatCounted}</summary>
          <Box
            component="pre"
            tabIndex={0}
            sx={{
              whiteSpace: 'pre-wrap',
              overflowWrap: 'anywhere',
              bgcolor: 'var(--mui-palette-signal-sunken)',
              p: 1,
              m: 0,
            }}
          >
            {f.query}
          </Box>
        </Box>
      )}
      {f.acceptedBy && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          {t.findingsPart.acceptedByUntil(f.acceptedBy)}
          {f.acceptedUntil}: {f.acceptedReason}
        </Typography>
      )}
      {f.severity === 'risk' && !f.acceptedBy && ['ready', 'agreed'].includes(p.state) && (
        <Box sx={{ mt: 1.5 }}>
          <Problem error={accept.error} />
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
            <TextField
              size="small"
              label={t.findingsPart.reason}
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              sx={{ minWidth: 220 }}
            />
            <TextField
              size="small"
              label={t.findingsPart.until}
              type="date"
              value={until}
              onChange={(e) => setUntil(e.target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
            <Act kind="outlined" why={why} busy={accept.isPending} onClick={() => accept.mutate()}>
              {t.findingsPart.acceptThisRisk}
            </Act>
          </Box>
        </Box>
      )}
    </Panel>
  );
}
