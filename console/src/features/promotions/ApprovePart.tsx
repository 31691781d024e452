import { whyNot } from '../../shared/data/rights';
import { Alert, Box, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, newKey, unwrap } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Act, Fingerprint, Go, Panel, Problem, State, Time } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { wayWords } from './model';
import { useAct } from './acting';

function sentence(p: Promotion): string {
  const risks = p.findings.filter((f) => f.severity === 'risk');
  const accepted = risks.filter((f) => f.acceptedBy).length;
  return `Version ${p.version} of ${p.application} goes ${p.way ? 'back ' : ''}into ${p.stageName}: ${p.counts.added.toLocaleString('en-GB')} added, ${p.counts.changed.toLocaleString('en-GB')} changed, ${p.counts.removed.toLocaleString('en-GB')} removed; ${plural(risks.length, 'risk', 'risks')}${risks.length ? `, ${accepted} accepted` : ''}.`;
}

/** What is agreed to, who agreed, who is missing; actions come after what was read. */
export function ApprovePart({ p }: { p: Promotion }) {
  const path = `/promotions/${p.number}`;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 2fr) minmax(0, 1fr)' },
        gap: 2,
        alignItems: 'start',
      }}
    >
      <Panel title="What you agree to" production={p.production}>
        <Typography sx={{ fontSize: 16, lineHeight: '24px', fontWeight: 600, mb: 2, maxWidth: '72ch' }}>
          {sentence(p)}
        </Typography>
        <Box
          component="dl"
          sx={{
            display: 'grid',
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '140px 1fr' },
            rowGap: 1,
            m: 0,
            '& dt': { color: 'text.secondary' },
            '& dd': { m: 0, minWidth: 0 },
          }}
        >
          <dt>Version</dt>
          <dd>
            {p.version} “{p.title}”
            {p.present && (
              <>
                , instead of {p.present} (both descend from {p.base})
              </>
            )}
          </dd>
          {p.notes && (
            <>
              <dt>Notes</dt>
              <dd>{p.notes}</dd>
            </>
          )}
          <dt>Comparison</dt>
          <dd>
            read <Time at={p.comparedAt} />, {p.counts.conflict} conflicts, {p.counts.kept} kept.{' '}
            <Go to={`${path}?part=comparison`}>Read it</Go>
          </dd>
          <dt>Findings</dt>
          <dd>
            {p.findings.length} of {p.checks} checks. <Go to={`${path}?part=findings`}>Read them</Go>
          </dd>
          <dt>Plan</dt>
          <dd>
            {p.plan?.steps.length} steps, {plural(p.plan?.statements.length ?? 0, 'statement', 'statements')}.{' '}
            <Go to={`${path}?part=plan`}>Read it</Go>
          </dd>
          <dt>Ways back</dt>
          <dd>
            {p.plan?.waysBack.map((w) => (
              <Box key={w.way} sx={w.possible ? undefined : { color: 'warning.main' }}>
                {w.possible ? '' : `By ${w.way}: `}
                {wayWords(w)}
              </Box>
            ))}
          </dd>
          <dt>Fingerprint</dt>
          <dd>
            <Fingerprint value={p.plan?.fingerprint} />
          </dd>
          <dt>Prepared</dt>
          <dd>
            by {p.preparedBy}, <Time at={p.preparedAt} />
          </dd>
        </Box>
        <Actions p={p} />
      </Panel>
      <Panel title="Who agreed">
        {p.approvals.length === 0 && <Typography color="textSecondary">Nobody yet.</Typography>}
        {p.approvals.map((a) => (
          <Box key={a.at} sx={{ mb: 1 }}>
            <b>{a.by}</b> said {a.yes ? 'yes' : 'no'}, <Time at={a.at} />
            {a.comment && <>: {a.comment}</>}
            {a.voidBecause && (
              <Typography variant="caption" component="div" sx={{ color: 'var(--mui-palette-signal-caution)' }}>
                No longer counts: {a.voidBecause}
              </Typography>
            )}
          </Box>
        ))}
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          {p.coveredBy
            ? `Covered by the approvals of ${p.coveredBy}: going back was agreed with it.`
            : p.approvalsNeeded === 0
              ? 'This stage needs no approval.'
              : `Needs ${plural(p.approvalsNeeded, 'approval', 'approvals')}; may be given by ${p.approvers.join(', ') || 'nobody: grant somebody the right to approve'}.`}
        </Typography>
        {p.gates.length > 0 && (
          <>
            <Typography variant="h3" sx={{ mt: 2 }}>
              Still open
            </Typography>
            <ul style={{ margin: 0, paddingLeft: 18 }}>
              {p.gates.map((g) => (
                <li key={g.code}>{g.words}</li>
              ))}
            </ul>
          </>
        )}
      </Panel>
    </Box>
  );
}

function Actions({ p }: { p: Promotion }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [comment, setComment] = useState('');
  const [key] = useState(newKey);
  const [shown] = useState(p.plan?.fullFingerprint ?? '');
  const changed = shown !== (p.plan?.fullFingerprint ?? '');
  const body = { fingerprint: shown, comment };
  const number = p.number;
  const approve = useAct(number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/approve', { params: { path: { number } }, body })),
  );
  const reject = useAct(number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/reject', { params: { path: { number } }, body })),
  );
  const start = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/promotions/{number}/runs', {
          params: { path: { number } },
          body: { expect: shown },
          headers: { 'Idempotency-Key': key },
        }),
      ),
    onSuccess: (run) => {
      void queries.invalidateQueries({ queryKey: ['promotions'] });
      navigate(`/runs/${run.number}`);
    },
  });
  const takeBack = useAct(number, () =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/take-back', { params: { path: { number } }, body: { reason: comment } }),
    ),
  );
  const error = approve.error ?? reject.error ?? start.error ?? takeBack.error;
  if (['done', 'withdrawn', 'overtaken'].includes(p.state)) return null;
  return (
    <Box sx={{ mt: 3, pt: 2, borderTop: '1px solid var(--mui-palette-divider)' }}>
      <Problem error={error} />
      {changed && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          Changed since you opened it: read it again, then reload the page to act.
        </Alert>
      )}
      {p.state === 'agreed' && (
        <Box sx={{ mb: 2 }}>
          <State word="agreed" strong />
        </Box>
      )}
      <TextField
        label="Comment (a no needs one)"
        value={comment}
        onChange={(e) => setComment(e.target.value)}
        multiline
        fullWidth
        size="small"
        sx={{ mb: 2, maxWidth: 560 }}
      />
      <Box sx={{ display: 'flex', flexDirection: 'column', alignItems: 'flex-start', gap: 1.5 }}>
        {p.approvalsNeeded > 0 && (
          <>
            <Act
              kind={p.state === 'agreed' ? 'outlined' : 'contained'}
              why={changed ? 'It changed since you opened it.' : whyNot(p.may.approve)}
              busy={approve.isPending}
              onClick={() => approve.mutate()}
            >
              Approve {p.application} {p.version} for {p.stageName}
            </Act>
            <Act
              kind="outlined"
              why={whyNot(p.may.reject) ? whyNot(p.may.reject) : comment ? undefined : 'Say why in the comment.'}
              busy={reject.isPending}
              onClick={() => reject.mutate()}
            >
              Reject {p.application} {p.version} for {p.stageName}
            </Act>
          </>
        )}
        {p.may['take-back']?.allowed && (
          <Act
            kind="outlined"
            why={comment ? undefined : 'Say why in the comment.'}
            busy={takeBack.isPending}
            onClick={() => takeBack.mutate()}
          >
            Take back what I said of {p.number}
          </Act>
        )}
        <Act
          kind={p.state === 'agreed' ? 'contained' : 'outlined'}
          why={changed ? 'It changed since you opened it.' : whyNot(p.may.run)}
          busy={start.isPending}
          onClick={() => start.mutate()}
        >
          Start {p.application} {p.version} into {p.stageName} now
        </Act>
      </Box>
    </Box>
  );
}
