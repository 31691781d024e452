import { Box, Checkbox, Typography } from '@mui/material';
import { asSeen, client, unwrap } from '../../shared/data/api';
import { Act, Panel, Problem, State } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';
import { Check, isNext } from './Check';
import { Picks } from './Picks';
import { Conversions } from './Conversions';
import { Renames } from './Renames';
import { t } from './texts';

/** A version was made from the same one meanwhile; the place of the finding is its number. */
function TakeUp({ d, version }: { d: Draft; version: string }) {
  const act = useDraftAct(d.id, () =>
    unwrap(client.POST('/api/v1/drafts/{id}/take-up', { params: { path: { id: d.id } }, body: { version } })),
  );
  return (
    <Box sx={{ mt: 0.5 }}>
      <Problem error={act.error} />
      <Act kind="outlined" busy={act.isPending} onClick={() => act.mutate()}>
        {t.takeUp(version)}
      </Act>
    </Box>
  );
}

/** What is chosen, brought along, gone and left behind, and what was found. */
export function Chosen({ d }: { d: Draft }) {
  const tick = useDraftAct(d.id, (removals: string[]) =>
    unwrap(
      client.POST('/api/v1/drafts/{id}/removals', {
        params: { path: { id: d.id } },
        body: { removals },
        ...asSeen(d.revision),
      }),
    ),
  );
  const chosen = d.picks.filter((p) => p.reason === 'chosen');
  const along = d.picks.filter((p) => p.reason !== 'chosen');
  const problems = d.checked.findings.filter((f) => !isNext(f.rule));
  const tables = d.picks.map((p) => p.key).filter((key) => key.startsWith('table/'));
  return (
    <Panel
      title={
        d.checked.findings.some((f) => isNext(f.rule))
          ? t.chosen.notChecked(chosen.length)
          : t.chosen.chosenBroughtAlongInThe(chosen.length, along.length, d.checked.problems.length)
      }
    >
      <Problem error={tick.error} />
      {d.picks.length > 0 ? <Picks d={d} /> : d.state === 'open' && t.chosen.nothingYet}
      {d.removed.gone.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">{t.chosen.goneAtTheSourceSince(d.from)}</Typography>
          <Typography variant="caption" color="textSecondary">
            {t.chosen.tickedTakenAwayAtThe}
          </Typography>
          {d.removed.gone.map((g) => (
            <Box key={g} component="label" sx={{ display: 'flex', alignItems: 'center' }}>
              <Checkbox
                size="small"
                checked={d.removed.ticked.includes(g)}
                disabled={d.state !== 'open'}
                onChange={(e) =>
                  tick.mutate(e.target.checked ? [...d.removed.ticked, g] : d.removed.ticked.filter((x) => x !== g))
                }
              />
              <span style={{ overflowWrap: 'anywhere' }}>{g}</span>
            </Box>
          ))}
        </Box>
      )}
      {d.checked.coverage.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">{t.chosen.ofWhatTheSourceHolds}</Typography>
          {d.checked.coverage.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
      {d.checked.leftBehind.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">{t.chosen.changedAndLeftBehind}</Typography>
          {d.checked.leftBehind.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
      {d.checked.cycles.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">{t.chosen.needOneAnotherAndAre}</Typography>
          {d.checked.cycles.map((l) => (
            <div key={l}>{l}</div>
          ))}
        </Box>
      )}
      {(tables.length > 0 || d.checked.renames.length > 0 || d.writing.conversions.length > 0) && (
        <>
          <Renames id={d.id} open={d.state === 'open'} renames={d.checked.renames} tables={tables} />
          <Conversions id={d.id} open={d.state === 'open'} tables={tables} stated={d.writing.conversions} />
        </>
      )}
      {problems.length > 0 && (
        <Box sx={{ mt: 2 }}>
          <Typography variant="h3">{t.chosen.findings}</Typography>
          {problems.map((f) => (
            <Box
              key={f.rule + f.place}
              sx={{ display: 'flex', gap: 1, borderTop: '1px solid var(--mui-palette-divider)', py: 0.75, minWidth: 0 }}
            >
              <State word={f.severity} />
              <Box sx={{ minWidth: 0, overflowWrap: 'anywhere' }}>
                {f.sentence}
                <Typography variant="caption" component="div" color="textSecondary">
                  {f.rule}
                  {f.advice && ` · ${f.advice}`}
                </Typography>
                {f.rule === 'outdated-start' && d.state === 'open' && <TakeUp d={d} version={f.place} />}
              </Box>
            </Box>
          ))}
        </Box>
      )}
      {d.state === 'open' && <Check d={d} />}
    </Panel>
  );
}
