import { Alert, Box, Tab, Tabs, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useParams, useSearchParams } from 'react-router';
import { plural } from '../../shared/time';
import { Act, Fingerprint, Go, Loading, PageTitle, Problem, State, Time } from '../../shared/ui/parts';
import { client, unwrap } from '../../shared/data/api';
import { useAct } from './acting';
import { promotion, type Promotion } from './api';
import { ApprovePart } from './ApprovePart';
import { ComparisonPart } from './ComparisonPart';
import { FindingsPart } from './FindingsPart';
import { Guards } from './Guards';
import { CarryOverPart } from './CarryOverPart';
import { PlanPart } from './PlanPart';
import { RecordPart } from './RecordPart';
import { SchedulePart } from './SchedulePart';
import { Withdraw } from './Withdraw';
import { titled } from '../../shared/purpose';
import { Underway } from '../../shared/ui/Underway';
import { t } from './texts';

const parts = ['approve', 'comparison', 'findings', 'plan'] as const;

/** Versions that come along: those that the stage skipped. */
function Between({ p }: { p: Promotion }) {
  const [last, ...between] = p.compared.brings;
  return (
    <Box component="details" sx={{ mb: 2 }}>
      <Box component="summary" sx={{ cursor: 'pointer' }}>
        {t.page.between(last?.number ?? '', plural(between.length, 'version', 'versions'), p.compared.base)}
      </Box>
      <ul style={{ margin: '8px 0 0', paddingLeft: 18 }}>
        {p.compared.brings.map((v) => (
          <li key={v.number}>
            <Go to={`/versions/${p.goal.application}/${v.number}`}>{v.number}</Go> {v.title}
            {v.tasks.length > 0 && `, ${v.tasks.join(', ')}`}
            {v.notes && (
              <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: 'pre-line' }}>
                {v.notes}
              </Typography>
            )}
          </li>
        ))}
      </ul>
    </Box>
  );
}

/** A comparison that failed, or a run that did, can be done again. */
function CompareAgain({ p }: { p: Promotion }) {
  const again = useAct(p.number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/compare', { params: { path: { number: p.number } } })),
  );
  return (
    <Box sx={{ mb: 2 }}>
      <Problem error={again.error} />
      <Act busy={again.isPending} onClick={() => again.mutate()}>
        {t.page.compareAgain}
      </Act>
    </Box>
  );
}

/** The case file: what changes, what could break, who agreed to exactly that, how to get back. */
export default function PromotionPage() {
  const { number = '' } = useParams();
  const [params, setParams] = useSearchParams();
  const part = parts.find((p) => p === params.get('part')) ?? 'approve';
  const q = useQuery(promotion(number));
  if (q.error && !q.data) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={number} />;
  const p = q.data;
  const blockers = p.impact.findings.filter((f) => f.severity === 'blocker').length;
  const risks = p.impact.findings.filter((f) => f.severity === 'risk').length;
  return (
    <>
      <PageTitle
        title={titled(p.goal)}
        production={p.goal.production}
        note={
          <>
            {t.page.read(p.number, p.goal.site, p.goal.path)}
            <Time at={p.compared.at} /> {t.page.fingerprint} <Fingerprint value={p.plan?.fingerprint} />
          </>
        }
      >
        <State word={p.state} strong />
        {p.run && <Go to={`/runs/${p.run}`}>{p.run}</Go>}
      </PageTitle>
      {p.sentence && (
        <Alert severity={p.state === 'failed' ? 'error' : 'info'} sx={{ mb: 2 }}>
          {p.sentence}
        </Alert>
      )}
      {p.goal.release && (
        <Typography sx={{ mb: 2 }}>
          {t.page.itBelongsToTheRelease} <Go to={`/releases/${p.goal.release}`}>{p.goal.release}</Go>
          {t.page.whichIsApprovedAndStarted}
        </Typography>
      )}
      {p.goal.waves && (
        <Typography sx={{ mb: 2 }}>
          {t.page.itGoesInWaves} <Go to={`/waves/${p.goal.waves}`}>{p.goal.waves}</Go>
          {t.page.whichIsApprovedAndStarted}
        </Typography>
      )}
      {p.compared.moved.length > 0 && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          <Typography sx={{ fontWeight: 650 }}>
            {p.agreement.approvals.length > 0 ? t.page.movedSinceItWasAgreed : t.page.movedSinceItWasCompared}
          </Typography>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {p.compared.moved.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </Alert>
      )}
      <Guards of={p.guards} />
      {p.compared.brings.length > 1 && <Between p={p} />}
      {p.state === 'failed' && <CompareAgain p={p} />}
      {p.state === 'preparing' ? (
        <>
          <Loading what={t.page.theComparisonWith(p.goal.site)} />
          <Underway about={`promotion/${p.number}`} busy touched={['promotions']} />
        </>
      ) : (
        <>
          <Tabs
            value={part}
            onChange={(_, v: string) => setParams({ part: v })}
            aria-label={t.page.partsOfTheCaseFile}
            variant="scrollable"
            sx={{ mb: 2, minHeight: 40 }}
          >
            <Tab value="approve" label={t.page.agree} />
            <Tab value="comparison" label={t.page.comparison} />
            <Tab
              value="findings"
              label={t.page.findings(plural(blockers, 'blocker', 'blockers'), plural(risks, 'risk', 'risks'))}
            />
            <Tab value="plan" label={t.page.plan} />
          </Tabs>
          <Box>
            {part === 'approve' && (
              <>
                <ApprovePart p={p} />
                {!p.goal.release && !p.goal.waves && <SchedulePart p={p} />}
              </>
            )}
            {part === 'comparison' && (
              <>
                <ComparisonPart p={p} />
                <CarryOverPart p={p} />
              </>
            )}
            {part === 'findings' && <FindingsPart p={p} />}
            {part === 'plan' && <PlanPart p={p} />}
          </Box>
          <RecordPart p={p} />
        </>
      )}
      <Withdraw p={p} />
    </>
  );
}
