import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { applications, stages } from '../../shared/data/lists';
import { useMissing } from '../../shared/data/rights';
import { full } from '../../shared/time';
import { Choice, Text } from '../../shared/ui/fields';
import { Act, Empty, Go, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { endRepeat, errands, makeFeed, newRepeat, repeats, stopErrand } from './api';
import { t } from './texts';

function useAgain() {
  const queries = useQueryClient();
  return () => {
    for (const key of ['calendar', 'promotions']) void queries.invalidateQueries({ queryKey: [key] });
  };
}

/** Versions that go to a stage again and again. */
export function Repeats() {
  const again = useAgain();
  const all = useQuery(repeats());
  const end = useMutation({ mutationFn: endRepeat, onSettled: again });
  const open = (all.data ?? []).filter((r) => r.state === 'active');
  return (
    <Panel title={t.repeats.title}>
      <Problem error={all.error ?? end.error} />
      {all.data && open.length === 0 && <Empty>{t.repeats.none}</Empty>}
      {open.length > 0 && (
        <Rows label={t.repeats.title} heads={t.repeats.heads}>
          {open.map((r) => (
            <tr key={r.number}>
              <td>{r.number}</td>
              <td>{t.repeats.goes(r.application, r.stage)}</td>
              <td style={{ overflowWrap: 'anywhere' }}>
                <code>{r.rule}</code>
              </td>
              <td>{r.next && <Time at={r.next} />}</td>
              <td style={{ minWidth: 180 }}>
                {r.sentence || t.repeats.notYet}
                <Typography variant="caption" component="div" color="textSecondary">
                  {t.repeats.by(r.by, full(r.ends))}
                </Typography>
              </td>
              <td>
                {r.mayEnd && (
                  <Act kind="outlined" busy={end.isPending} onClick={() => end.mutate(r.number)}>
                    {t.repeats.end(r.number)}
                  </Act>
                )}
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <AddRepeat />
    </Panel>
  );
}

const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

/** The rule of a day of the week, or of each day, at a time. */
export function rule(day: string, time: string): string {
  const [hour = '', minute = ''] = time.split(':');
  const often = day === 'daily' ? 'FREQ=DAILY' : `FREQ=WEEKLY;BYDAY=${day}`;
  return `${often};BYHOUR=${Number(hour)};BYMINUTE=${Number(minute)}`;
}

function AddRepeat() {
  const again = useAgain();
  const apps = useQuery(applications());
  const places = useQuery(stages());
  const [application, setApplication] = useState('');
  const [stage, setStage] = useState('');
  const [day, setDay] = useState('daily');
  const [time, setTime] = useState('02:30');
  const may = useMissing('run', stage, application);
  const fits = /^([01]\d|2[0-3]):[0-5]\d$/.test(time);
  const act = useMutation({ mutationFn: newRepeat, onSuccess: again });
  const zone = places.data?.find((s) => s.key === stage)?.zone;
  return (
    <Box component="details" sx={{ borderTop: '1px solid var(--mui-palette-divider)', pt: 1, mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>
        {t.repeats.add}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ my: 1, maxWidth: '72ch' }}>
        {t.repeats.hint}
      </Typography>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Choice
          label={t.repeats.application}
          value={application}
          of={(apps.data ?? []).map((a) => [a.key, a.name])}
          set={setApplication}
        />
        <Choice
          label={t.repeats.stage}
          value={stage}
          of={(places.data ?? []).map((s) => [s.key, s.name])}
          set={setStage}
        />
        <Choice
          label={t.repeats.day}
          value={day}
          of={['daily', ...DAYS].map((d) => [d, t.repeats.days[d] ?? d])}
          set={setDay}
        />
        <Text label={t.repeats.time(zone)} value={time} set={setTime} width={200} />
        <Act
          kind="outlined"
          why={application && stage && fits ? may : t.repeats.need}
          busy={act.isPending}
          onClick={() => act.mutate({ application, stage, rule: rule(day, time) })}
        >
          {t.repeats.save}
        </Act>
      </Box>
    </Box>
  );
}

/** What is on its way, what stopped, and why. */
export function Errands() {
  const again = useAgain();
  const all = useQuery(errands());
  const stop = useMutation({ mutationFn: stopErrand, onSettled: again });
  const list = (all.data ?? []).slice(0, 20);
  return (
    <Panel title={t.errands.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.errands.hint}
      </Typography>
      <Problem error={all.error ?? stop.error} />
      {all.data && list.length === 0 && <Empty>{t.errands.none}</Empty>}
      {list.length > 0 && (
        <Rows label={t.errands.title} heads={t.errands.heads}>
          {list.map((e) => (
            <tr key={e.number}>
              <td>{e.number}</td>
              <td>
                {e.promotion ? (
                  <Go to={`/promotions/${e.promotion}`}>{t.errands.goes(e.application, e.version, e.site)}</Go>
                ) : (
                  t.errands.goes(e.application, e.version, e.site)
                )}
                <Typography variant="caption" component="div" color="textSecondary">
                  {t.errands.because(e.cause, e.by)}
                </Typography>
              </td>
              <td>
                <State word={e.state} />
              </td>
              <td style={{ minWidth: 180, overflowWrap: 'anywhere' }}>
                {e.run && <Go to={`/runs/${e.run}`}>{e.run}</Go>} {e.sentence}
              </td>
              <td>
                {e.mayStop && (
                  <Act kind="outlined" busy={stop.isPending} onClick={() => stop.mutate(e.number)}>
                    {t.errands.stop(e.number)}
                  </Act>
                )}
              </td>
            </tr>
          ))}
        </Rows>
      )}
    </Panel>
  );
}

/** An address for calendar programs; shown once. */
export function Feed() {
  const [label, setLabel] = useState('');
  const make = useMutation({ mutationFn: makeFeed });
  return (
    <Panel title={t.feed.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.feed.hint} <Go to="/you">{t.feed.ended}</Go>
      </Typography>
      <Problem error={make.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Text label={t.feed.label} value={label} set={setLabel} width={220} />
        <Act
          kind="outlined"
          why={label.trim() ? undefined : t.feed.need}
          busy={make.isPending}
          onClick={() => make.mutate(label.trim())}
        >
          {t.feed.make}
        </Act>
      </Box>
      {make.data && (
        <Box role="status" sx={{ mt: 1, overflowWrap: 'anywhere' }}>
          {t.feed.once} <code>{window.location.origin + make.data.address}</code>
        </Box>
      )}
    </Panel>
  );
}
