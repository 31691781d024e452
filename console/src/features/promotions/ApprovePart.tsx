import { whyNot } from '../../shared/data/rights';
import { Alert, Box, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, newKey, unwrap } from '../../shared/data/api';
import { plural, span } from '../../shared/time';
import { Act, Fingerprint, Go, Panel, Problem, State, Time } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { wayWords } from './model';
import { useAct } from './acting';
import { Gives } from './PlanPart';
import { goesBack } from '../../shared/purpose';
import { Obstacle } from '../../shared/ui/Obstacle';
import { Notes } from './Notes';
import { EmergencyPart } from './EmergencyPart';
import { TakesAway, useTakesAway } from '../../shared/ui/TakesAway';
import { ByHandPart } from './ByHandPart';
import { OutsidePart } from './OutsidePart';
import { QuestionsPart } from './QuestionsPart';
import { Rehearsed } from './RehearsalPart';
import { t } from './texts';

function sentence(p: Promotion): string {
  const risks = p.impact.findings.filter((f) => f.severity === 'risk');
  const accepted = risks.filter((f) => f.acceptedBy).length;
  const counted = `${plural(risks.length, 'risk', 'risks')}${risks.length ? `, ${accepted} accepted` : ''}`;
  if (p.goal.purpose === 'values')
    return t.approvePart.givesValues(
      plural(p.compared.gives.length, 'value', 'values'),
      p.goal.version,
      p.goal.application,
      p.goal.stageName,
      counted,
    );
  if (p.goal.putBack && p.goal.putBack.saved.length > 0)
    return t.approvePart.bringsInSentence(
      p.goal.application,
      p.goal.stageName,
      p.compared.counts.added,
      p.compared.counts.changed,
      counted,
    );
  if (p.goal.purpose === 'put-back')
    return t.approvePart.putsBack(
      p.goal.version,
      p.goal.application,
      p.goal.stageName,
      p.compared.counts.added,
      p.compared.counts.changed,
      p.compared.counts.removed,
      counted,
    );
  return t.approvePart.versionOfGoesIntoAdded(
    p.goal.version,
    p.goal.application,
    goesBack(p.goal.purpose) ? 'back ' : '',
    p.goal.stageName,
    p.compared.counts.added.toLocaleString('en-GB'),
    p.compared.counts.changed.toLocaleString('en-GB'),
    p.compared.counts.removed.toLocaleString('en-GB'),
    plural(risks.length, 'risk', 'risks'),
    risks.length ? `, ${accepted} accepted` : '',
  );
}

/** Which parts are put back, and which that are only there go. */
function PutBack({ of }: { of: NonNullable<Promotion['goal']['putBack']> }) {
  const places = (all: string[]) => all.map((p) => p.replaceAll('"', '')).join(', ');
  return (
    <Box sx={{ mb: 2, maxWidth: '72ch', overflowWrap: 'anywhere' }}>
      {of.saved.length > 0 ? (
        <div>{t.approvePart.bringsIn(of.saved.join(', '))}</div>
      ) : of.only.length > 0 ? (
        <div>{t.approvePart.putsBackOnly(places(of.only))}</div>
      ) : (
        of.away.length === 0 && <div>{t.approvePart.putsBackAll}</div>
      )}
      {of.away.length > 0 && <div>{t.approvePart.takesAway(places(of.away))}</div>}
    </Box>
  );
}

/** What is chosen about on a way back that is open: what something uses by now, and what does not fit. */
function Obstacles({ p }: { p: Promotion }) {
  const decide = useAct(p.number, (decisions: Record<string, string>) =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/decide', {
        params: { path: { number: p.number } },
        body: { decisions },
      }),
    ),
  );
  return (
    <Box sx={{ mb: 2 }}>
      <Problem error={decide.error} />
      {p.choices.obstacles.map((o) => (
        <Obstacle
          key={o.at}
          way={p.number}
          o={o}
          off={!p.may.decide?.allowed || decide.isPending}
          settle={(at, choice) => decide.mutate({ [at]: choice })}
        />
      ))}
    </Box>
  );
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
      <Panel title={t.approvePart.whatYouAgreeTo} production={p.goal.production}>
        <Typography sx={{ fontSize: 16, lineHeight: '24px', fontWeight: 600, mb: 2, maxWidth: '72ch' }}>
          {sentence(p)}
        </Typography>
        {p.goal.putBack && <PutBack of={p.goal.putBack} />}
        {p.goal.purpose === 'values' && <Gives p={p} />}
        {p.choices.obstacles.length > 0 && <Obstacles p={p} />}
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
          <dt>{t.approvePart.version}</dt>
          <dd>
            {p.goal.version} “{p.goal.title}”
            {p.compared.present && p.compared.base && (
              <>
                {t.approvePart.insteadOfBothDescendFrom(p.compared.present)}
                {p.compared.base})
              </>
            )}
          </dd>
          {p.goal.coverage && (
            <>
              <dt>{t.approvePart.carries}</dt>
              <dd style={{ overflowWrap: 'anywhere' }}>{p.goal.coverage}</dd>
            </>
          )}
          <dt>{t.approvePart.notes}</dt>
          <dd>
            <Notes p={p} />
          </dd>
          <dt>{t.approvePart.comparison}</dt>
          <dd>
            {t.approvePart.read} <Time at={p.compared.at} />
            {t.approvePart.conflictsKept(p.compared.counts.conflict, p.compared.counts.kept)}
            <Go to={`${path}?part=comparison`}>{t.approvePart.readIt}</Go>
          </dd>
          <dt>{t.approvePart.findings}</dt>
          <dd>
            {t.approvePart.ofChecks(p.impact.findings.length, p.impact.checks)}
            <Go to={`${path}?part=findings`}>{t.approvePart.readThem}</Go>
          </dd>
          <dt>{t.approvePart.plan}</dt>
          <dd>
            {p.plan?.steps.length}
            {t.approvePart.steps(plural(p.plan?.statements.length ?? 0, 'statement', 'statements'))}
            <Go to={`${path}?part=plan`}>{t.approvePart.readIt}</Go>
          </dd>
          {p.usersOutExpected && (
            <>
              <dt>{t.approvePart.usersOut}</dt>
              <dd>{t.approvePart.usersOutFor(span(p.usersOutExpected), p.usersOutExpected.runs)}</dd>
            </>
          )}
          <dt>{t.approvePart.waysBack}</dt>
          <dd>
            {p.plan?.waysBack.map((w) => (
              <Box key={w.way} sx={w.possible ? undefined : { color: 'warning.main' }}>
                {w.possible ? '' : t.approvePart.by(w.way)}
                {wayWords(w)}
              </Box>
            ))}
          </dd>
          <dt>{t.approvePart.rehearsal}</dt>
          <dd>
            <Rehearsed of={p.rehearsed} />
            <Go to={`${path}?part=plan`}>{t.approvePart.readIt}</Go>
          </dd>
          <dt>{t.approvePart.fingerprint}</dt>
          <dd>
            <Fingerprint value={p.plan?.fingerprint} />
          </dd>
          <dt>{t.approvePart.prepared}</dt>
          <dd>
            {t.approvePart.preparedBy(p.prepared.by)}
            <Time at={p.prepared.at} />
          </dd>
        </Box>
        <Actions p={p} />
      </Panel>
      <Box sx={{ minWidth: 0 }}>
        <Panel title={t.approvePart.whoAgreed}>
          {p.agreement.approvals.length === 0 && (
            <Typography color="textSecondary">{t.approvePart.nobodyYet}</Typography>
          )}
          {p.agreement.approvals.map((a) => (
            <Box key={a.at} sx={{ mb: 1 }}>
              <b>{a.of ? t.approvePart.inFor(a.by, a.of) : a.by}</b>
              {t.approvePart.said(a.yes ? t.approvePart.yes : t.approvePart.no)}
              <Time at={a.at} />
              {a.comment && <>: {a.comment}</>}
              {a.voidBecause && (
                <Typography variant="caption" component="div" sx={{ color: 'var(--mui-palette-signal-caution)' }}>
                  {t.approvePart.noLongerCounts(a.voidBecause)}
                </Typography>
              )}
            </Box>
          ))}
          <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
            {p.agreement.coveredBy
              ? t.approvePart.coveredByTheApprovalsOf(p.agreement.coveredBy)
              : p.agreement.needed === 0
                ? t.approvePart.theWayNeedsNoApproval
                : t.approvePart.needsMayBeGivenBy(
                    p.agreement.asks.join(t.approvePart.and),
                    p.agreement.approvers.join(', ') || t.approvePart.nobodyGrantSomebodyTheRight,
                  )}
          </Typography>
          {p.gates.length > 0 && (
            <>
              <Typography variant="h3" sx={{ mt: 2 }}>
                {t.approvePart.stillOpen}
              </Typography>
              <ul style={{ margin: 0, paddingLeft: 18 }}>
                {p.gates.map((g) => (
                  <li key={g.code}>{g.words}</li>
                ))}
              </ul>
            </>
          )}
        </Panel>
        <EmergencyPart p={p} />
        <ByHandPart p={p} />
        <OutsidePart p={p} />
        <QuestionsPart p={p} />
      </Box>
    </Box>
  );
}

function Actions({ p }: { p: Promotion }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [comment, setComment] = useState('');
  const away = useTakesAway(p.compared.takesAway, p.goal.application);
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
  const late = p.state === 'done' && p.agreement.urgency?.owed === true;
  if (['done', 'withdrawn', 'overtaken'].includes(p.state) && !late) return null;
  return (
    <Box sx={{ mt: 3, pt: 2, borderTop: '1px solid var(--mui-palette-divider)' }}>
      <Problem error={error} />
      {changed && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          {t.approvePart.changedSinceYouOpenedIt}
        </Alert>
      )}
      {p.state === 'agreed' && (
        <Box sx={{ mb: 2 }}>
          <State word="agreed" strong />
        </Box>
      )}
      <TextField
        label={t.approvePart.commentANoNeedsOne}
        value={comment}
        onChange={(e) => setComment(e.target.value)}
        multiline
        fullWidth
        size="small"
        sx={{ mb: 2, maxWidth: 560 }}
      />
      <Box sx={{ display: 'flex', flexDirection: 'column', alignItems: 'flex-start', gap: 1.5 }}>
        {p.agreement.needed > 0 && (
          <>
            <Act
              kind={p.state === 'agreed' ? 'outlined' : 'contained'}
              why={changed ? t.approvePart.itChangedSinceYouOpened : whyNot(p.may.approve)}
              busy={approve.isPending}
              onClick={() => approve.mutate()}
            >
              {t.approvePart.approveFor(p.goal.application, p.goal.version, p.goal.stageName)}
            </Act>
            {!late && (
              <Act
                kind="outlined"
                why={
                  whyNot(p.may.reject) ? whyNot(p.may.reject) : comment ? undefined : t.approvePart.sayWhyInTheComment
                }
                busy={reject.isPending}
                onClick={() => reject.mutate()}
              >
                {t.approvePart.rejectFor(p.goal.application, p.goal.version, p.goal.stageName)}
              </Act>
            )}
          </>
        )}
        {p.may['take-back']?.allowed && (
          <Act
            kind="outlined"
            why={comment ? undefined : t.approvePart.sayWhyInTheComment}
            busy={takeBack.isPending}
            onClick={() => takeBack.mutate()}
          >
            {t.approvePart.takeBackWhatISaid(p.number)}
          </Act>
        )}
        {!late && <TakesAway of={away} />}
        {!late && (
          <Act
            kind={p.state === 'agreed' ? 'contained' : 'outlined'}
            why={changed ? t.approvePart.itChangedSinceYouOpened : whyNot(p.may.run) || away.why}
            busy={start.isPending}
            onClick={() => start.mutate()}
          >
            {t.approvePart.startNow(p.goal)}
          </Act>
        )}
      </Box>
    </Box>
  );
}
