import { whyNot } from '../../shared/data/rights';
import { Box, LinearProgress, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { between, duration, plural, span } from '../../shared/time';
import { color, Mark } from '../../shared/ui/Mark';
import {
  Act,
  Band,
  Fingerprint,
  Go,
  Loading,
  NoReturn,
  PageTitle,
  Panel,
  Problem,
  State,
  Time,
} from '../../shared/ui/parts';
import { isThere, log, run, type Run } from './api';
import { titled } from '../../shared/purpose';
import { Answers } from './AnswersPart';
import { EvidencePart } from './EvidencePart';
import { Judge } from './JudgePart';
import { SheetPart } from './SheetPart';
import { ChargePart, PausedPart } from './SteeringPart';
import { t } from './texts';

/** A run can be left and found again; closing the page changes nothing. */
export default function RunPage() {
  const { number = '' } = useParams();
  const q = useQuery(run(number));
  const [, tick] = useState(0);
  const ended = q.data?.ended;
  useEffect(() => {
    if (ended) return;
    const timer = setInterval(() => tick((n) => n + 1), 500);
    return () => clearInterval(timer);
  }, [ended]);
  if (q.error && !q.data) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={number} />;
  const r = q.data;
  const at = r.steps.find((s) => s.state === 'running' || s.state === 'unknown');
  const word = r.ended ? r.state : at ? t.page.runningStepOf(at.number, r.steps.length) : r.state;
  return (
    <>
      <PageTitle
        title={titled(r.goal)}
        production={r.goal.production}
        note={
          <>
            {t.page.of(r.number)}
            <Go to={`/promotions/${r.promotion}`}>{r.promotion}</Go>
            {t.page.byPlan(r.startedBy)}
            <Fingerprint value={r.goal.fingerprint} />
          </>
        }
      >
        <Box role="status" aria-live="polite" sx={{ display: 'inline-flex', gap: 1, alignItems: 'center' }}>
          {r.ended || r.state === 'paused' ? (
            <State word={r.state} strong />
          ) : (
            <>
              <Mark of="running" size={20} />
              <Box component="span" sx={{ color: color('running'), fontWeight: 650 }}>
                {word}
              </Box>
            </>
          )}
        </Box>
      </PageTitle>
      {r.sentence && (
        <Band word={r.state}>
          {r.sentence}
          {r.next && (
            <Box sx={{ mt: 1 }}>
              {r.next.words} <Go to={nextAt(r, r.next.code)}>{t.page.next[r.next.code]}</Go>
            </Box>
          )}
        </Band>
      )}
      {r.goal.notes && (
        <Typography sx={{ mb: 2, whiteSpace: 'pre-line', overflowWrap: 'anywhere', maxWidth: '72ch' }}>
          {r.goal.notes}
        </Typography>
      )}
      {['half written', 'failed, all put back', 'stopped, nothing changed', 'paused'].includes(r.state) && (
        <Box sx={{ mb: 2 }}>
          <Go to={`/runs/${r.number}/night`}>{t.night.link}</Go>
        </Box>
      )}
      <Facts r={r} />
      <PausedPart r={r} />
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 560px) minmax(0, 1fr)' },
          gap: 1.5,
          alignItems: 'start',
        }}
      >
        <Steps r={r} />
        <Log number={number} />
      </Box>
      {r.backup && (
        <Panel title={t.page.backup}>
          <b>{r.backup.name}</b>
          {t.page.ofBytes(
            plural(r.backup.rows, 'row', 'rows'),
            r.backup.tables.join(', '),
            r.backup.proof,
            r.backup.bytes.toLocaleString('en-GB'),
          )}
        </Panel>
      )}
      <SheetPart r={r} />
      {r.ended && <Answers r={r} />}
      <ChargePart r={r} />
      {isThere(r) && (
        <Typography sx={{ mb: 2 }}>
          <Go to={`/runs/${r.number}/try`}>{t.page.whatToTry(r.goal.version)}</Go>
        </Typography>
      )}
      <EvidencePart r={r} />
      <Judge r={r} />
    </>
  );
}

/** Where a next step is done. */
function nextAt(r: Run, code: string) {
  const site = `${r.goal.application}/${r.goal.site}`;
  return code === 'promotion'
    ? `/promotions/${r.promotion}`
    : code === 'ways-back'
      ? `/rollback/${site}`
      : `/drift/${site}`;
}

function Facts({ r }: { r: Run }) {
  const elapsed = between(r.times.startedAt ?? r.times.queuedAt, r.times.endedAt);
  const expected = r.times.expected;
  const late = expected ? elapsed - expected.mostSeconds : 0;
  const out = r.times.usersOutSince;
  const outExpected = r.times.usersOutExpected;
  const fact = (big: string, small: React.ReactNode) => (
    <Box sx={{ minWidth: 0 }}>
      <Typography
        component="div"
        sx={{ fontSize: 24, lineHeight: '32px', fontWeight: 620, fontVariantNumeric: 'tabular-nums' }}
      >
        {big}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {small}
      </Typography>
    </Box>
  );
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'repeat(2, minmax(0, 1fr))', md: 'repeat(4, minmax(0, 1fr))' },
        gap: 2,
        mb: 2,
      }}
    >
      {fact(
        r.state === 'queued' ? t.page.place(r.place) : duration(elapsed),
        r.state === 'queued'
          ? r.waitsFor
            ? t.page.waitsFor(r.waitsFor)
            : t.page.waitsInLineForThe
          : r.ended
            ? t.page.took
            : t.page.elapsed,
      )}
      {fact(
        expected ? span(expected) : t.page.noEstimate,
        expected
          ? late > 0 && !r.ended && r.state !== 'paused'
            ? t.page.longerThanUsual(duration(late))
            : t.page.usuallyFromEarlierRunsHere(expected.runs)
          : t.page.firstRunHere,
      )}
      {fact(
        !out
          ? t.page.usersIn
          : r.times.usersInAgain || r.times.usersOut
            ? duration(between(out, r.times.usersInAgain))
            : t.page.outUnknown,
        <>
          {!out ? t.page.nobodyOut : r.times.usersOut ? t.page.usersOut : t.page.usersWereOut}
          {outExpected && t.page.usuallyOut(span(outExpected))}
        </>,
      )}
      <Box>
        {r.ended ? (
          fact(
            t.page.ended,
            <>
              {r.state.startsWith('done') ? (
                <Go to={`/rollback/${r.goal.application}/${r.goal.site}`}>{t.page.waysBack}</Go>
              ) : (
                t.page.nothingToGoBackFrom
              )}
            </>,
          )
        ) : r.times.noReturnAt ? (
          fact(
            t.page.cannotBeAborted,
            <>
              {t.page.since} <Time at={r.times.noReturnAt} />
              {t.page.fromHereOnly} <Go to={`/rollback/${r.goal.application}/${r.goal.site}`}>{t.page.goingBack}</Go>
            </>,
          )
        ) : (
          <Abort r={r} />
        )}
      </Box>
    </Box>
  );
}

function Abort({ r }: { r: Run }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const abort = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/runs/{number}/abort', { params: { path: { number: r.number } }, body: { reason } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ['runs', r.number] }),
  });
  return (
    <>
      <Typography component="div" sx={{ fontWeight: 620 }}>
        {t.page.canBeAborted}
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {t.page.staysExactlyAsItWas(r.goal.site)}
      </Typography>
      <Problem error={abort.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        <TextField
          size="small"
          label={t.page.why}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: 140 }}
        />
        <Act
          kind="outlined"
          why={whyNot(r.mayAbort) || (reason ? undefined : t.page.sayWhy)}
          busy={abort.isPending}
          onClick={() => abort.mutate()}
        >
          {t.page.abort(r.number)}
        </Act>
      </Box>
    </>
  );
}

function Steps({ r }: { r: Run }) {
  return (
    <Box
      component="ol"
      aria-label={t.page.steps}
      sx={{
        listStyle: 'none',
        m: 0,
        mb: 2,
        p: 0,
        bgcolor: 'background.paper',
        border: '1px solid var(--mui-palette-divider)',
      }}
    >
      {r.steps.map((s) => (
        <li key={s.number}>
          {s.number === r.noReturnStep && <NoReturn />}
          <StepRow s={s} r={r} />
        </li>
      ))}
    </Box>
  );
}

function StepRow({ s, r }: { s: Schemas['RunStepView']; r: Run }) {
  const running = s.state === 'running';
  const took = s.began ? duration(between(s.began, s.ended)) : '–';
  const rowsShown = running && r.rows.toDo > 0 && (s.name === 'Prepare' || s.name === 'Switch');
  return (
    <Box
      sx={{
        display: 'flex',
        gap: 1.5,
        px: 1.5,
        py: 1.25,
        alignItems: 'flex-start',
        borderTop: '1px solid var(--mui-palette-divider)',
        ...(running ? { bgcolor: 'var(--mui-palette-signal-motionT)' } : {}),
      }}
    >
      <Mark of={s.state} />
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ fontWeight: running ? 650 : 400 }}>
          {s.number}. {s.name}
          {s.manual && `: ${s.manual.asked.title}`}{' '}
          <Box component="span" sx={{ color: 'text.secondary', fontSize: 12 }}>
            {s.manual && running ? t.page.waits : s.state}
          </Box>
        </Box>
        {s.note && (
          <Typography variant="caption" color="textSecondary" component="div" sx={{ overflowWrap: 'anywhere' }}>
            {s.note}
          </Typography>
        )}
        {rowsShown && (
          <>
            <LinearProgress
              variant="determinate"
              value={(100 * r.rows.done) / r.rows.toDo}
              aria-label={t.page.rowsWritten}
              sx={{ mt: 0.5 }}
            />
            <Typography variant="caption">
              {t.page.rowsOf(r.rows.done.toLocaleString('en-GB'), plural(r.rows.toDo, 'row', 'rows'))}
            </Typography>
          </>
        )}
      </Box>
      <Typography variant="body2" sx={{ whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums' }}>
        {took}
        {s.usualSeconds ? (
          <Box component="span" sx={{ color: 'text.secondary' }}>
            {t.page.ofUsual(duration(s.usualSeconds))}
          </Box>
        ) : null}
      </Typography>
    </Box>
  );
}

function Log({ number }: { number: string }) {
  const l = useQuery(log(number));
  const box = useRef<HTMLDivElement>(null);
  const [follow, setFollow] = useState(true);
  const lines = l.data?.lines;
  useEffect(() => {
    if (follow && box.current) box.current.scrollTop = box.current.scrollHeight;
  }, [lines, follow]);
  return (
    <Box
      ref={box}
      tabIndex={0}
      role="log"
      aria-live="off"
      aria-label={t.page.log}
      onScroll={(e) => {
        const b = e.currentTarget;
        setFollow(b.scrollHeight - b.scrollTop - b.clientHeight < 40);
      }}
      sx={{
        height: 440,
        overflow: 'auto',
        mb: 2,
        bgcolor: 'var(--mui-palette-signal-sunken)',
        border: '1px solid var(--mui-palette-divider)',
        p: 1.5,
        fontFamily: 'ui-monospace, monospace',
        fontSize: 12,
        lineHeight: '18px',
      }}
    >
      {(lines ?? []).map((line, i) => (
        <Box key={i} sx={{ overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' }}>
          {line.replace(/^\S+T(\d\d:\d\d:\d\d)\S*Z /, '$1 ')}
        </Box>
      ))}
      {lines?.length === 0 && t.page.nothingSaidYet}
    </Box>
  );
}
