import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { between, duration } from '../../shared/time';
import { Act, Panel, Problem, State, Time } from '../../shared/ui/parts';
import { rehearsals, type Promotion, type Rehearsal } from './api';
import { t } from './texts';

/** The plan on copies: begun here, followed, and what came of it. */
export function RehearsalPart({ p }: { p: Promotion }) {
  const queries = useQueryClient();
  const all = useQuery(rehearsals(p.number));
  const items = all.data?.items ?? [];
  const going = items.find((r) => !r.ended);
  const again = () => void queries.invalidateQueries({ queryKey: ['promotions', p.number] });
  const start = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/promotions/{number}/rehearse', { params: { path: { number: p.number } } })),
    onSettled: again,
  });
  return (
    <Panel title={t.rehearsal.title}>
      <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1 }}>
        {t.rehearsal.cost}
      </Typography>
      <Problem error={all.error ?? start.error} />
      {items.length === 0 && !all.isPending && <Typography sx={{ mb: 1 }}>{t.rehearsal.none}</Typography>}
      {items.map((r, n) => (
        <One key={r.number} r={r} newest={n === 0} done={again} />
      ))}
      {p.may.rehearse && (
        <Act
          kind="outlined"
          why={whyNot(p.may.rehearse) || (going ? t.rehearsal.goesOn(going.number) : undefined)}
          busy={start.isPending}
          onClick={() => start.mutate()}
        >
          {t.rehearsal.start(p.number, p.goal.site)}
        </Act>
      )}
    </Panel>
  );
}

function One({ r, newest, done }: { r: Rehearsal; newest: boolean; done: () => void }) {
  const stop = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/rehearsals/{number}/stop', { params: { path: { number: r.number } } })),
    onSettled: done,
  });
  return (
    <Box component="details" open={newest} sx={{ mb: 1.5, overflowWrap: 'anywhere' }}>
      <Box component="summary" sx={{ cursor: 'pointer' }}>
        <b>{r.number}</b> <State word={t.rehearsal.results[r.result] ?? r.result} />{' '}
        <Typography component="span" variant="body2" color="textSecondary">
          {t.rehearsal.by(r.by)} <Time at={r.began} />
          {r.ended && t.rehearsal.took(duration(between(r.began, r.ended)))}
          {!r.ofThisPlan && t.rehearsal.anotherPlan}
        </Typography>
      </Box>
      {r.sentence && <div>{r.sentence}</div>}
      <ol style={{ margin: '8px 0', paddingLeft: 24 }}>
        {r.parts.map((part, n) => (
          <li key={n}>
            {part.name}{' '}
            <Typography component="span" variant="body2" color="textSecondary">
              {typeof part.seconds === 'number'
                ? duration(part.seconds)
                : r.ended
                  ? t.rehearsal.didNotEnd
                  : t.rehearsal.goingOn}
              {part.note && part.note !== r.sentence && <>: {part.note}</>}
            </Typography>
          </li>
        ))}
      </ol>
      {r.beside.length > 0 && (
        <>
          <Typography variant="body2" sx={{ fontWeight: 650 }}>
            {t.rehearsal.beside}
          </Typography>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {r.beside.map((b) => (
              <li key={b}>{b}</li>
            ))}
          </ul>
        </>
      )}
      <Problem error={stop.error} />
      {r.mayStop && (
        <Act kind="outlined" busy={stop.isPending} onClick={() => stop.mutate()}>
          {t.rehearsal.stop(r.number)}
        </Act>
      )}
    </Box>
  );
}

/** What an approver reads of it beside the ways back. */
export function Rehearsed({ of }: { of: Promotion['rehearsed'] }) {
  if (!of) return <>{t.rehearsal.none}</>;
  return (
    <>
      <State word={t.rehearsal.results[of.result] ?? of.result} /> {of.number}
      {of.ofThisPlan ? '' : t.rehearsal.anotherPlan}
      {of.beside > 0 && t.rehearsal.butFor(of.beside)}.{' '}
    </>
  );
}
