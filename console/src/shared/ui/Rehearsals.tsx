import { Box, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../data/api';
import { between, duration } from '../time';
import { Act, Problem, State, Time } from './parts';
import { t } from './texts';

type Rehearsal = Schemas['RehearsalView'];

/** One rehearsal: what was done on the copies, how long it took, what came of it, what not. */
export function OneRehearsal({ r, newest, done }: { r: Rehearsal; newest: boolean; done: () => void }) {
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
