import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { full } from '../../shared/time';
import { Act, Empty, Go, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { calendar } from './api';
import { Freezes } from './Freezes';
import { Errands, Feed, Repeats } from './Onward';
import { days, entries, monday } from './model';
import { t } from './texts';
import { Week } from './Week';

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

/** A week of all stages: when runs may start, what holds them, what starts by itself, what ran. */
export default function CalendarPage() {
  const [params, setParams] = useSearchParams();
  const now = new Date();
  const at = params.get('week');
  const from = monday(at && !Number.isNaN(Date.parse(at)) ? new Date(`${at}T12:00:00`) : now);
  const until = days(from, 7);
  const q = useQuery(calendar(from.toISOString(), until.toISOString()));
  const go = (to: Date) =>
    setParams({
      week: `${to.getFullYear()}-${String(to.getMonth() + 1).padStart(2, '0')}-${String(to.getDate()).padStart(2, '0')}`,
    });
  const list = q.data
    ? entries(q.data, {
        window: t.windowUntil,
        open: t.open,
        frozen: t.frozen,
        lifted: t.lifted,
        scheduled: t.scheduled,
        again: t.again,
        time: full,
      })
    : [];
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <Problem error={q.error} />
      <Panel title={t.week(day.format(from), day.format(days(from, 6)))}>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mb: 1.5 }}>
          <Act kind="outlined" onClick={() => go(days(from, -7))}>
            {t.earlier}
          </Act>
          <Act kind="outlined" onClick={() => go(now)}>
            {t.today}
          </Act>
          <Act kind="outlined" onClick={() => go(days(from, 7))}>
            {t.later}
          </Act>
        </Box>
        {q.data ? <Week c={q.data} from={from} now={now} /> : <Loading what={t.title} />}
      </Panel>
      {q.data && q.data.clashes.length > 0 && (
        <Panel title={t.clashes}>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {q.data.clashes.map((k) => (
              <li key={k.what + k.at}>
                <Time at={k.at} /> {k.stage}: {t.clash(k.what, k.words)}
              </li>
            ))}
          </ul>
        </Panel>
      )}
      <Panel title={t.entries}>
        {q.data && list.length === 0 ? (
          <Empty>{t.none}</Empty>
        ) : (
          <Rows label={t.entries} heads={t.heads}>
            {list.map((e) => (
              <tr key={e.sort + e.what + e.at + e.stage}>
                <td>
                  <Time at={e.at} />
                </td>
                <td>{e.stage}</td>
                <td>{e.to ? <Go to={e.to}>{e.what}</Go> : e.what}</td>
                <td style={{ minWidth: 180 }}>
                  <Typography component="span" variant="body2" sx={{ overflowWrap: 'anywhere' }}>
                    {e.text}
                  </Typography>
                </td>
              </tr>
            ))}
          </Rows>
        )}
      </Panel>
      <Errands />
      <Repeats />
      <Freezes />
      <Feed />
    </>
  );
}
