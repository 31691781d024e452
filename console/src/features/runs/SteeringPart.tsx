import { Alert, Box, Checkbox, FormControlLabel, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { ByHandStep } from '../../shared/ui/ByHand';
import { Choice } from '../../shared/ui/fields';
import { Act, Panel, Problem, Time } from '../../shared/ui/parts';
import { evidence, type Run } from './api';
import { t } from './texts';

type Step = Schemas['RunStepView'];
type Handed = Schemas['HandedView'];

/** An act on a run: sent once, and the run shown as it is then. */
function useRunAct<V = void>(number: string, act: (value: V) => Promise<Run>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: (r) => queries.setQueryData(['runs', number], r),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['runs', number] });
      void queries.invalidateQueries({ queryKey: ['standing'] });
      void queries.invalidateQueries({ queryKey: ['waiting'] });
    },
  });
}

const asks = (s: Step) => s.manual?.since && s.state !== 'done' && s.state !== 'left out';

/** A paused run: what it waits for, of whom, since when, and how it goes on. */
export function PausedPart({ r }: { r: Run }) {
  const pause = r.steering.pause;
  if (!pause) return null;
  return (
    <Panel title={t.paused.title(pause.step)}>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        {t.paused.since} <Time at={pause.since} />
        {pause.code === 'person' ? t.paused.by(pause.by, pause.reason) : ''}
      </Typography>
      {r.steps.map((s) => (asks(s) && s.manual ? <Asked key={s.number} r={r} s={s} h={s.manual} /> : null))}
      {pause.code === 'answers' && <LetIn r={r} why={pause.reason} />}
      {pause.code === 'person' && <Resume r={r} label={t.paused.resume(r.number)} />}
      {r.steering.may.end?.allowed && <End r={r} />}
    </Panel>
  );
}

/** One piece of work that the run waits for: each line ticked, a note, and what came of it. */
function Asked({ r, s, h }: { r: Run; s: Step; h: Handed }) {
  const [ticked, setTicked] = useState<Record<string, boolean>>({});
  const [note, setNote] = useState('');
  const [shows, setShows] = useState('');
  const given = useQuery({ ...evidence(r.number), enabled: h.asked.step.proof === true }).data?.items ?? [];
  const path = { number: r.number, step: s.number };
  const done = useRunAct(r.number, () =>
    unwrap(
      client.POST('/api/v1/runs/{number}/steps/{step}/done', {
        params: { path },
        body: { note, evidence: shows || undefined },
      }),
    ),
  );
  const notDone = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/steps/{step}/not-done', { params: { path }, body: { reason: note } })),
  );
  const leaveOut = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/steps/{step}/leave-out', { params: { path }, body: { reason: note } })),
  );
  const take = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/steps/{step}/take', { params: { path }, body: { from: h.takenBy } })),
  );
  const parts = h.asked.step.text
    .split('\n')
    .slice(1)
    .filter((l) => l.trim());
  const open = parts.filter((l) => !ticked[l]).length;
  const may = whyNot(h.mayWord);
  const reason = may ?? (note.trim() ? undefined : t.paused.sayWhy);
  const unshown = h.asked.step.proof && !shows ? t.paused.chooseFile : undefined;
  return (
    <Box sx={{ borderTop: '1px solid var(--mui-palette-divider)', pt: 1.5, mb: 1.5 }}>
      <ByHandStep step={{ ...h.asked.step, text: h.asked.title }} when={h.asked.whenWords} origin={h.asked.origin} />
      <Typography variant="body2" color="textSecondary">
        {h.who.length > 0 ? t.paused.askedOf(h.who.join(', ')) : t.paused.askedOfNobody}
        {h.takenBy && t.paused.isAtIt(h.takenBy)}
      </Typography>
      {h.due && (
        <Typography variant="body2" sx={h.overdue ? { color: 'var(--mui-palette-signal-fault)' } : undefined}>
          {h.overdue ? t.paused.overdueSince : t.paused.due} <Time at={h.due} />
        </Typography>
      )}
      {h.outcome === 'not-done' && (
        <Alert severity="warning" sx={{ my: 1 }}>
          {t.paused.couldNot(h.by ?? '', h.note ?? '')}
        </Alert>
      )}
      {parts.map((line) => (
        <FormControlLabel
          key={line}
          sx={{ display: 'flex' }}
          control={
            <Checkbox
              size="small"
              checked={ticked[line] ?? false}
              onChange={(_, v) => setTicked({ ...ticked, [line]: v })}
            />
          }
          label={line.replace(/^\s*[-*]\s*/, '')}
        />
      ))}
      <Problem error={done.error ?? notDone.error ?? leaveOut.error ?? take.error} />
      <TextField
        size="small"
        multiline
        fullWidth
        label={t.paused.note}
        value={note}
        onChange={(e) => setNote(e.target.value)}
        sx={{ my: 1, maxWidth: 560 }}
      />
      {h.asked.step.proof && (
        <Box sx={{ mb: 1 }}>
          <Choice
            label={t.paused.file}
            value={shows}
            of={[['', t.paused.noFile], ...given.map((e): [string, string] => [e.number, `${e.number} ${e.name}`])]}
            width={320}
            set={setShows}
          />
        </Box>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        <Act
          why={may ?? (open > 0 ? t.paused.tick(open) : unshown)}
          busy={done.isPending}
          onClick={() => done.mutate()}
        >
          {t.paused.done(s.number)}
        </Act>
        <Act kind="outlined" why={reason} busy={notDone.isPending} onClick={() => notDone.mutate()}>
          {r.times.noReturnAt ? t.paused.notDone : t.paused.notDoneStops}
        </Act>
        {h.asked.step.mayBeLeftOut && (
          <Act
            kind="outlined"
            why={whyNot(h.mayLeaveOut) ?? (note.trim() ? undefined : t.paused.sayWhy)}
            busy={leaveOut.isPending}
            onClick={() => leaveOut.mutate()}
          >
            {t.paused.leaveOut}
          </Act>
        )}
        {!h.takenBy && h.mayTake.allowed && (
          <Act kind="outlined" busy={take.isPending} onClick={() => take.mutate()}>
            {t.paused.take}
          </Act>
        )}
      </Box>
    </Box>
  );
}

/** An answer is not as it should be: asked again, or users come in all the same. */
function LetIn({ r, why }: { r: Run; why: string }) {
  const [reason, setReason] = useState('');
  const letIn = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/let-in', { params: { path: { number: r.number } }, body: { reason } })),
  );
  return (
    <>
      <Alert severity="warning" sx={{ mb: 1.5 }}>
        {t.paused.usersOut(why)}
      </Alert>
      <Problem error={letIn.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Resume r={r} label={t.paused.askAgain} />
        <TextField size="small" label={t.page.why} value={reason} onChange={(e) => setReason(e.target.value)} />
        <Act
          kind="outlined"
          why={whyNot(r.steering.may['let-in']) ?? (reason.trim() ? undefined : t.page.sayWhy)}
          busy={letIn.isPending}
          onClick={() => letIn.mutate()}
        >
          {t.paused.letIn}
        </Act>
      </Box>
    </>
  );
}

function Resume({ r, label }: { r: Run; label: string }) {
  const resume = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/resume', { params: { path: { number: r.number } } })),
  );
  return (
    <>
      <Problem error={resume.error} />
      <Act why={whyNot(r.steering.may.resume)} busy={resume.isPending} onClick={() => resume.mutate()}>
        {label}
      </Act>
    </>
  );
}

/** Ends it where it stands, so that it can be gone back from; users stay out. */
function End({ r }: { r: Run }) {
  const [reason, setReason] = useState('');
  const end = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/end', { params: { path: { number: r.number } }, body: { reason } })),
  );
  return (
    <Box
      component="fieldset"
      sx={{ border: '1px solid var(--mui-palette-divider)', p: 1.5, m: 0, mt: 1.5, minWidth: 0 }}
    >
      <legend>{t.paused.endTitle}</legend>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {t.paused.endHint(r.goal.version, r.goal.site)}
      </Typography>
      <Problem error={end.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <TextField size="small" label={t.page.why} value={reason} onChange={(e) => setReason(e.target.value)} />
        <Act
          kind="outlined"
          why={reason.trim() ? undefined : t.page.sayWhy}
          busy={end.isPending}
          onClick={() => end.mutate()}
        >
          {t.paused.end(r.number)}
        </Act>
      </Box>
    </Box>
  );
}

/** Who answers for it, and how somebody else does from now on; pausing while it runs. */
export function ChargePart({ r }: { r: Run }) {
  const [reason, setReason] = useState('');
  const path = { number: r.number };
  const pause = useRunAct(r.number, () =>
    unwrap(client.POST('/api/v1/runs/{number}/pause', { params: { path }, body: { reason } })),
  );
  const over = useRunAct(r.number, () =>
    unwrap(
      client.POST('/api/v1/runs/{number}/take-over', {
        params: { path },
        body: { from: r.steering.inCharge, reason },
      }),
    ),
  );
  const may = r.steering.may;
  const acts = !r.ended && (may.pause?.allowed || may['take-over']?.allowed);
  if (!acts && r.steering.charges.length === 0) return null;
  const why = reason.trim() ? undefined : t.page.sayWhy;
  return (
    <Panel title={t.charge.title(r.steering.inCharge)}>
      {r.steering.charges.map((c) => (
        <Typography key={c.at}>
          {t.charge.took(c.by, c.from)} <Time at={c.at} />: {c.reason}
        </Typography>
      ))}
      {acts && (
        <>
          <Problem error={pause.error ?? over.error} />
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 1 }}>
            <TextField size="small" label={t.page.why} value={reason} onChange={(e) => setReason(e.target.value)} />
            {may.pause?.allowed && (
              <Act kind="outlined" why={why} busy={pause.isPending} onClick={() => pause.mutate()}>
                {t.charge.pause(r.number)}
              </Act>
            )}
            {may['take-over']?.allowed && (
              <Act kind="outlined" why={why} busy={over.isPending} onClick={() => over.mutate()}>
                {t.charge.takeOver(r.number)}
              </Act>
            )}
          </Box>
        </>
      )}
    </Panel>
  );
}
