import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { Download, Empty, Go, Loading, PageTitle, Panel, Problem, State, Time } from '../../shared/ui/parts';
import { Answers } from './AnswersPart';
import { evidenceOf, promotion, run, type Run } from './api';
import { EvidencePart } from './EvidencePart';
import { Judge } from './JudgePart';
import { SheetPart } from './SheetPart';
import { t } from './texts';

/** What a tester reads before a verdict: what changed in words, what was done around it, what others showed. */
export default function TryPage() {
  const { number = '' } = useParams();
  const q = useQuery(run(number));
  if (q.error && !q.data) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={number} />;
  const r = q.data;
  return (
    <>
      <PageTitle
        title={t.tryPage.title(r.goal.application, r.goal.version, r.goal.site)}
        production={r.goal.production}
        note={
          <>
            {t.tryPage.broughtBy}
            <Go to={`/runs/${r.number}`}>{r.number}</Go>
          </>
        }
      >
        <State word={r.state} strong />
      </PageTitle>
      <Changed r={r} />
      <ByHand r={r} />
      <SheetPart r={r} />
      <Answers r={r} />
      <Elsewhere r={r} />
      <EvidencePart r={r} />
      <Judge r={r} />
    </>
  );
}

/** In the words of whoever made it, version by version. */
function Changed({ r }: { r: Run }) {
  const p = useQuery(promotion(r.promotion));
  const brings = p.data?.compared.brings ?? [];
  return (
    <Panel title={t.tryPage.changed}>
      <Problem error={p.error} />
      {r.goal.notes && (
        <Typography sx={{ mb: 1, whiteSpace: 'pre-line', overflowWrap: 'anywhere', maxWidth: '72ch' }}>
          {r.goal.notes}
        </Typography>
      )}
      {brings.length === 0 && !r.goal.notes && !p.isPending && <Empty>{t.tryPage.noWords}</Empty>}
      {brings.map((v) => (
        <Box key={v.number} sx={{ mb: 1, overflowWrap: 'anywhere' }}>
          <Go to={`/versions/${r.goal.application}/${v.number}`}>{v.number}</Go> {v.title}
          {v.tasks.length > 0 && `, ${v.tasks.join(', ')}`}
          {v.notes && (
            <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: 'pre-line', maxWidth: '72ch' }}>
              {v.notes}
            </Typography>
          )}
        </Box>
      ))}
    </Panel>
  );
}

/** Work that people did around the run, with what came of it. */
function ByHand({ r }: { r: Run }) {
  const steps = r.steps.filter((s) => s.manual);
  if (steps.length === 0) return null;
  return (
    <Panel title={t.tryPage.byHand}>
      {steps.map((s) => (
        <Box key={s.number} sx={{ mb: 1, overflowWrap: 'anywhere' }}>
          <State word={s.state === 'running' ? t.page.waits : s.state} /> {s.manual?.asked.title}
          {s.manual?.by && <> {t.tryPage.saidBy(s.manual.by)}</>}
          {s.manual?.note && <>: {s.manual.note}</>}
          {s.manual?.evidence && <> ({s.manual.evidence})</>}
        </Box>
      ))}
    </Panel>
  );
}

/** What was shown of this very version by other runs. */
function Elsewhere({ r }: { r: Run }) {
  const all = useQuery(evidenceOf(r.goal.application));
  const others = (all.data?.items ?? []).filter((e) => e.version === r.goal.version && e.run !== r.number);
  return (
    <Panel title={t.tryPage.elsewhere}>
      <Problem error={all.error} />
      {others.length === 0 && !all.isPending && <Empty>{t.tryPage.nothingElsewhere(r.goal.version)}</Empty>}
      {others.map((e) => (
        <Box key={e.number} sx={{ mb: 1, overflowWrap: 'anywhere' }}>
          <Download href={`/api/v1/evidence/${e.number}/file`}>
            {e.number} {e.name}
          </Download>{' '}
          {e.report && <State word={e.report.passed ? 'good' : 'failed'} />} {e.report ? e.report.words : e.about}{' '}
          <Typography component="span" variant="body2" color="textSecondary">
            {t.tryPage.at(e.site, e.by)} <Time at={e.at} />
          </Typography>
        </Box>
      ))}
    </Panel>
  );
}
