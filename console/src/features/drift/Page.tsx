import { Box, Checkbox, TextField, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import {
  Act,
  Band,
  Download,
  Empty,
  Facts,
  Go,
  Loading,
  More,
  PageTitle,
  Panel,
  Problem,
  Rows,
  Time,
} from '../../shared/ui/parts';
import { Differs, named } from './Differs';
import { LeftOver } from './LeftOver';
import { t } from './texts';

type Drift = Schemas['DriftView'];
type Line = Schemas['LineView'];
type Path = { application: string; stage: string; site: string };

/** All that a site holds otherwise than it is recorded there, and settling it. */
export default function DriftPage() {
  const { application = '', stage = '', site = '' } = useParams();
  const path = { application, stage, site };
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const q = useInfiniteQuery({
    queryKey: ['standing', 'drift', application, stage, site],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      unwrap(
        client.GET('/api/v1/records/{application}/{stage}/{site}/drift', {
          params: { path, query: { cursor: pageParam } },
        }),
      ),
    getNextPageParam: (last) => last.next ?? undefined,
  });
  const look = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/records/{application}/{stage}/{site}/look', { params: { path } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['standing'] }),
  });
  const d = q.data?.pages[0];
  if (q.error) return <Problem error={q.error} />;
  if (!d) return <Loading what={t.looking(`${stage}/${site}`)} />;
  const lines = (q.data?.pages ?? []).flatMap((p) => p.items);
  const choose = (place: string, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(place);
    else next.delete(place);
    setChosen(next);
  };
  return (
    <>
      <PageTitle
        title={t.title(application, d.site)}
        production={d.production}
        note={d.version && t.recorded(d.version)}
      />
      <Problem error={look.error} />
      {!d.reachable && <Band word="not reachable">{t.notReachable}</Band>}
      <Panel>
        <Facts
          list={[
            [t.looked, d.lookedAt ? <Time key="at" at={d.lookedAt} /> : t.notLooked],
            [t.rowsLooked, d.rowsLookedAt ? <Time key="rows" at={d.rowsLookedAt} /> : t.notLooked],
            [t.ask, d.owner],
            [t.differs, d.all > 0 && t.counts(total(d))],
          ]}
        />
        <Box sx={{ mt: 2, display: 'flex', flexWrap: 'wrap', gap: 2, alignItems: 'center' }}>
          <Act kind="outlined" busy={look.isPending} onClick={() => look.mutate()}>
            {t.look}
          </Act>
          {d.all > 0 && (
            <>
              <Download href={`/api/v1/records/${application}/${stage}/${site}/drift/file`}>{t.csv}</Download>
              <Download href={`/api/v1/records/${application}/${stage}/${site}/drift/document`}>{t.json}</Download>
            </>
          )}
          <Go to={`/compare/${application}/${stage}/${site}`}>{t.compareLink}</Go>
        </Box>
      </Panel>
      {d.all === 0 && <Empty>{d.lookedAt ? t.nothing : t.nobodyLooked}</Empty>}
      {d.groups
        .filter((g) => lines.some((l) => l.component === g.component))
        .map((g) => (
          <Group
            key={g.component}
            g={g}
            lines={lines.filter((l) => l.component === g.component)}
            chosen={chosen}
            choose={choose}
          />
        ))}
      <More of={q} />
      {d.listed < d.all && <Empty>{t.unlisted(d.all - d.listed)}</Empty>}
      {d.all > 0 && <Settle d={d} lines={lines} path={path} chosen={chosen} done={() => setChosen(new Set())} />}
      <LeftForATime d={d} path={path} />
      <LeftOver path={path} />
    </>
  );
}

function total(d: Drift) {
  return d.groups.reduce(
    (a, g) => ({ changed: a.changed + g.changed, gone: a.gone + g.gone, onlyThere: a.onlyThere + g.onlyThere }),
    { changed: 0, gone: 0, onlyThere: 0 },
  );
}

type Choosing = { chosen: ReadonlySet<string>; choose: (place: string, on: boolean) => void };

function Group({ g, lines, chosen, choose }: { g: Schemas['GroupView']; lines: Line[] } & Choosing) {
  const whole = chosen.has(g.component);
  const single = lines.length === 1 && lines[0]?.place === g.component;
  return (
    <Panel title={g.component}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2, alignItems: 'center', color: 'text.secondary' }}>
        {!single && g.changed + g.gone > 0 && (
          <Box component="label" sx={{ display: 'inline-flex', alignItems: 'center', color: 'text.primary' }}>
            <Checkbox checked={whole} onChange={(_, on) => choose(g.component, on)} />
            {t.all(g.component)}
          </Box>
        )}
        <span>{t.counts(g)}</span>
        {g.run && (
          <span>
            {t.lastRun} <Go to={`/runs/${g.run}`}>{g.run}</Go>
          </span>
        )}
        {g.author && <span>{t.author(g.author)}</span>}
      </Box>
      {lines.map((l, n) => (
        <One key={`${l.place} ${n}`} l={l} whole={whole && !single} chosen={chosen} choose={choose} />
      ))}
    </Panel>
  );
}

function One({ l, whole, chosen, choose }: { l: Line; whole: boolean } & Choosing) {
  const covered = whole && l.how !== 'only-there';
  return (
    <Differs
      l={l}
      heads={t.heads}
      before={
        <Checkbox
          checked={covered || chosen.has(l.place)}
          disabled={covered || l.place.endsWith('#row/…')}
          onChange={(_, on) => choose(l.place, on)}
          slotProps={{ input: { 'aria-label': t.one(named(l)) } }}
          sx={{ p: 0.5 }}
        />
      }
      behind={
        <>
          , {t.since} <Time at={l.since} />
          {l.settled ? `, ${t.settled[l.settled]}` : ''}
        </>
      }
    />
  );
}

type Settling = { d: Drift; lines: Line[]; path: Path; chosen: ReadonlySet<string>; done: () => void };

function Settle({ d, lines, path, chosen, done }: Settling) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const onlyThere = new Set(lines.filter((l) => l.how === 'only-there').map((l) => l.place));
  const only = [...chosen].filter((p) => !onlyThere.has(p));
  const away = [...chosen].filter((p) => onlyThere.has(p));
  const back = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/put-back', {
          params: { path },
          body: { only, away },
        }),
      ),
    onSuccess: (p) => navigate(`/promotions/${p.number}`),
  });
  const take = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/drift/take', {
          params: { path },
          body: { places: [...chosen] },
        }),
      ),
    onSuccess: (made) => navigate(`/drafts/${made.id}`),
  });
  const leave = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/drift/leave', {
          params: { path },
          body: { places: [...chosen], reason, until },
        }),
      ),
    onSuccess: () => {
      done();
      setReason('');
      setUntil('');
      return queries.invalidateQueries({ queryKey: ['standing'] });
    },
  });
  const first = chosen.size === 0 ? t.chooseFirst : undefined;
  // on a later page there may be what is not settled
  const open = Boolean(d.next) || lines.some((l) => l.how !== 'only-there' && !l.settled);
  return (
    <Panel title={t.settle}>
      <Typography role="status" sx={{ mb: 1 }}>
        {t.chosen(chosen.size)}
      </Typography>
      <Problem error={back.error ?? take.error ?? leave.error} />
      <Box
        sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'repeat(3, minmax(0, 1fr))' } }}
      >
        <Choice hint={t.putBackHint}>
          <Act
            why={whyNot(d.may.putBack) || (chosen.size === 0 && !open ? t.nothingRecorded : undefined)}
            busy={back.isPending}
            onClick={() => back.mutate()}
          >
            {chosen.size === 0 ? t.putBackAll : t.putBack(only.length, away.length)}
          </Act>
        </Choice>
        <Choice hint={t.takeHint}>
          <Act kind="outlined" why={whyNot(d.may.take) || first} busy={take.isPending} onClick={() => take.mutate()}>
            {t.take}
          </Act>
        </Choice>
        <Choice hint={t.leaveHint}>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mb: 1 }}>
            <TextField size="small" label={t.reason} value={reason} onChange={(e) => setReason(e.target.value)} />
            <TextField
              size="small"
              type="date"
              label={t.until}
              value={until}
              onChange={(e) => setUntil(e.target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          </Box>
          <Act
            kind="outlined"
            why={whyNot(d.may.leave) || first || (reason && until ? undefined : t.sayWhy)}
            busy={leave.isPending}
            onClick={() => leave.mutate()}
          >
            {t.leave}
          </Act>
        </Choice>
      </Box>
    </Panel>
  );
}

function Choice({ hint, children }: { hint: string; children: React.ReactNode }) {
  return (
    <div>
      {children}
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1, maxWidth: '48ch' }}>
        {hint}
      </Typography>
    </div>
  );
}

function LeftForATime({ d, path }: { d: Drift; path: Path }) {
  const queries = useQueryClient();
  const noMore = useMutation({
    mutationFn: (place: string) =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/drift/leave-no-more', {
          params: { path },
          body: { places: [place] },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['standing'] }),
  });
  if (d.left.length === 0) return null;
  return (
    <Panel title={t.leftTitle}>
      <Problem error={noMore.error} />
      <Rows label={t.leftTitle} heads={t.leftHeads}>
        {d.left.map((l) => (
          <tr key={l.place}>
            <td style={{ overflowWrap: 'anywhere' }}>{l.place.replaceAll('"', '')}</td>
            <td style={{ whiteSpace: 'nowrap' }}>{l.until}</td>
            <td>{l.by}</td>
            <td>{l.reason}</td>
            <td>
              <Act
                kind="outlined"
                name={t.leaveNoMore(l.place.replaceAll('"', ''))}
                why={whyNot(d.may.leave)}
                busy={noMore.isPending && noMore.variables === l.place}
                onClick={() => noMore.mutate(l.place)}
              >
                {t.noMore}
              </Act>
            </td>
          </tr>
        ))}
      </Rows>
    </Panel>
  );
}
