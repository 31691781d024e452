import { Box, Button, MenuItem, Radio, TextField, Typography } from '@mui/material';
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { client, newKey, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Fingerprint, Go, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { GivenValues } from '../../shared/ui/GivenValues';
import { Obstacle } from '../../shared/ui/Obstacle';
import { Underway } from '../../shared/ui/Underway';
import { BringIn } from './BringIn';
import { Ask } from './Ask';
import { t } from './texts';
import { ways as names } from './ways';
import { stages, versions } from '../../shared/data/lists';

type Way = Schemas['WayOption'];

/** The ways back side by side, each with its counted loss; none is preselected when any loses something. */
export default function RollbackPage() {
  const { application = '', stage = '', site = '' } = useParams();
  const where = `${stage}/${site}`;
  const [params, setParams] = useSearchParams();
  const version = params.get('version') ?? '';
  const choices = params.getAll('choice');
  const q = useQuery({
    queryKey: ['rollback', application, where, version, choices],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/rollback/ways', {
          params: { query: { application, site: where, version: version || undefined, choice: choices } },
        }),
      ),
    staleTime: 0,
    // what was shown stays until the ways are worked out with the new choice
    placeholderData: keepPreviousData,
  });
  const earlier = useQuery(versions(application));
  if (q.error) return <Problem error={q.error} />;
  if (!q.data)
    return (
      <>
        <Loading what={t.page.theWaysBackIsBeing(where)} />
        <Underway about={`rollback/${application}@${where}`} busy />
      </>
    );
  const w = q.data;
  return (
    <>
      <PageTitle
        title={t.page.goBackIn(application, stage)}
        production={w.production}
        note={<>{t.page.holds(where, w.present ?? t.page.nothing)}</>}
      />
      {w.ways.every((x) => !x.possible && x.obstacles.length === 0) && (
        <Panel title={t.page.thereIsNoWayBack}>
          {w.ways.map((x) => (
            <p key={x.way}>
              {names[x.way]}: {x.why}
            </p>
          ))}
        </Panel>
      )}
      <TimeLine ways={w} />
      <TextField
        select
        size="small"
        label={t.goTo}
        value={version}
        onChange={(e) => setParams(e.target.value ? { version: e.target.value } : {})}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        sx={{ minWidth: 260, mb: 2 }}
      >
        <MenuItem value="">{t.lastGood}</MenuItem>
        {(earlier.data ?? [])
          .filter((v) => v.number !== w.present)
          .map((v) => (
            <MenuItem key={v.number} value={v.number}>
              {v.number} {v.title}
            </MenuItem>
          ))}
      </TextField>
      <Choose
        key={version}
        ways={w}
        version={version}
        choices={choices}
        working={q.isPlaceholderData}
        choose={(at, choice) => setParams(chosen(params, at, choice))}
      />
      <Elsewhere application={application} stage={stage} site={site} leaving={w.present} />
      <BringIn application={application} site={where} />
    </>
  );
}

/** The same version at other sites of the stage: they can go back in one act. */
function Elsewhere({
  application,
  stage,
  site,
  leaving,
}: {
  application: string;
  stage: string;
  site: string;
  leaving: string | undefined;
}) {
  const all = useQuery(stages());
  const others = (all.data ?? []).find((s) => s.key === stage)?.sites.filter((s) => s.key !== site) ?? [];
  if (others.length === 0 || !leaving) return null;
  return (
    <Panel title={t.stage.elsewhere}>
      <Go to={`/rollback/${application}/${stage}?leaving=${encodeURIComponent(leaving)}`}>
        {t.stage.toEverySite(leaving, stage)}
      </Go>
    </Panel>
  );
}

/** The address with one choice more, or another one. */
function chosen(params: URLSearchParams, at: string, choice: string): URLSearchParams {
  const next = new URLSearchParams(params);
  next.delete('choice');
  params
    .getAll('choice')
    .filter((c) => !c.startsWith(`${at}=`))
    .forEach((c) => next.append('choice', c));
  next.append('choice', `${at}=${choice}`);
  return next;
}

/** None when any way loses something, or when it does not lead to the version that was asked for. */
function preselected(usable: Way[], version: string): string {
  const first = usable.find((w) => !version || w.version === version);
  return first && usable.every((w) => w.lost === 0) ? first.way : '';
}

type Choosing = {
  ways: Schemas['Ways'];
  version: string;
  choices: string[];
  working: boolean;
  choose: (at: string, choice: string) => void;
};

function Choose({ ways, version, choices, working, choose }: Choosing) {
  const navigate = useNavigate();
  const usable = ways.ways.filter((w) => w.possible);
  const [picked, setPicked] = useState<string>();
  // what a choice opens is preselected as what was open from the start
  const way = picked ?? preselected(usable, version);
  const [key] = useState(newKey);
  const chosen = ways.ways.find((w) => w.way === way);
  const go = useMutation({
    mutationFn: ({ reason, confirm }: { reason: string; confirm?: string }) =>
      unwrap(
        client.POST('/api/v1/rollback', {
          body: {
            application: ways.application,
            site: ways.site,
            way,
            version: version || undefined,
            reason,
            expect: chosen?.fullFingerprint ?? '',
            confirm,
            choices: Object.fromEntries(
              choices.map((c) => [c.slice(0, c.lastIndexOf('=')), c.slice(c.lastIndexOf('=') + 1)]),
            ),
          },
          headers: { 'Idempotency-Key': key },
        }),
      ),
    onSuccess: (s) => navigate(s.run ? `/runs/${s.run}` : `/promotions/${s.promotion}`),
  });
  if (usable.length === 0 && ways.ways.every((w) => w.obstacles.length === 0)) return null;
  return (
    <>
      <Box
        component="fieldset"
        aria-busy={working}
        sx={{
          border: 0,
          p: 0,
          m: 0,
          mb: 2,
          display: 'grid',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'repeat(2, minmax(0, 1fr))' },
          gap: 2,
          alignItems: 'stretch',
          minWidth: 0,
        }}
      >
        <Box component="legend" sx={{ fontWeight: 650, mb: 1 }}>
          {t.page.waysBack}
        </Box>
        {ways.ways.map((w) => (
          <Card
            key={w.way}
            w={w}
            ways={ways}
            version={version}
            choices={choices}
            chosen={way === w.way && w.possible}
            choose={() => setPicked(w.way)}
            settle={choose}
          />
        ))}
      </Box>
      <Panel production={ways.production} title={t.page.confirm}>
        <Problem error={go.error} />
        <Ask
          application={ways.application}
          may={ways.may}
          why={working ? t.page.beingWorkedOut : chosen?.possible ? undefined : t.page.chooseAWay}
          busy={go.isPending}
          act={
            !chosen
              ? t.page.goBack
              : chosen.way === 'earlier-values'
                ? t.page.giveBack(ways.site)
                : t.page.putBackTo(
                    ways.application,
                    chosen.version,
                    chosen.way === 'backup' ? t.page.fromTheBackupOf(chosen.run) : '',
                  )
          }
          go={(reason, confirm) => go.mutate({ reason, confirm })}
        />
        {chosen && (
          <Typography variant="body2" color="textSecondary">
            {chosen.covered ? t.page.coveredByTheApprovalsOf(chosen.coveredBy) : t.page.notCoveredByEarlierApprovals}
          </Typography>
        )}
      </Panel>
    </>
  );
}

function Card({
  w,
  ways,
  version,
  choices,
  chosen,
  choose,
  settle,
}: {
  w: Way;
  ways: Schemas['Ways'];
  version: string;
  choices: string[];
  chosen: boolean;
  choose: () => void;
  settle: (at: string, choice: string) => void;
}) {
  return (
    <Box
      onClick={w.possible ? choose : undefined}
      sx={{
        bgcolor: 'background.paper',
        border: chosen ? '2px solid var(--mui-palette-signal-you)' : '1px solid var(--mui-palette-signal-edge)',
        borderRadius: 1,
        p: 2,
        cursor: w.possible ? 'pointer' : 'default',
        minWidth: 0,
      }}
    >
      <Box component="label" sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Radio name="way" value={w.way} checked={chosen} disabled={!w.possible} onChange={choose} sx={{ p: 0.5 }} />
        <Typography variant="h3" component="h2">
          {names[w.way] ?? w.way}
          {w.version && w.way !== 'earlier-values' ? `, ${w.version}` : ''}
        </Typography>
      </Box>
      {!w.possible ? (
        <Typography color="textSecondary">
          {w.obstacles.length > 0 ? t.page.closedUntilChosen(w.why) : t.page.cannotBeUsed(w.why)}
        </Typography>
      ) : (
        <>
          <Typography
            sx={{
              fontSize: 24,
              lineHeight: '32px',
              fontWeight: 620,
              color: w.lost === 0 ? 'text.primary' : 'var(--mui-palette-signal-fault)',
            }}
          >
            {w.lost < 0
              ? t.page.lossCantBeKnown
              : w.lost === 0
                ? t.page.losesNothing
                : t.page.loses(plural(w.lost, t.page.rowOrValue, t.page.rowsOrValues))}
          </Typography>
          {w.losses.length > 0 && <Losses w={w} />}
          <GivenValues gives={w.gives} />
          <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
            {w.way === 'earlier-values'
              ? t.page.stays(w.version, w.run)
              : t.page.changedBackRemovedPutBack(
                  w.counts.changed,
                  w.counts.removed,
                  w.counts.added,
                  w.counts.kept + w.counts.conflict,
                )}
            {t.page.writes(w.writes)}
            <Fingerprint value={w.fingerprint} />
          </Typography>
          <Touched w={w} />
          {w.findings.length > 0 && (
            <ul style={{ margin: '8px 0 0', paddingLeft: 18, fontSize: 13 }}>
              {w.findings.map((f) => (
                <li key={f}>{f}</li>
              ))}
            </ul>
          )}
          {w.lost > 0 && <SaveLost ways={ways} way={w.way} version={version} choices={choices} />}
        </>
      )}
      {w.obstacles.map((o) => (
        <Obstacle key={o.at} way={w.way} o={o} settle={settle} />
      ))}
      {w.run && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          <Go to={`/runs/${w.run}`}>
            {w.way === 'earlier-values' ? t.page.theRunThatGave(w.run) : t.page.theRunThatTookIt(w.run)}
          </Go>
        </Typography>
      )}
    </Box>
  );
}

/** What would go, saved to a file of the person's own first. */
function SaveLost({
  ways,
  way,
  version,
  choices,
}: {
  ways: Schemas['Ways'];
  way: string;
  version: string;
  choices: string[];
}) {
  const query = new URLSearchParams({
    application: ways.application,
    site: ways.site,
    way,
    ...(version ? { version } : {}),
  });
  choices.forEach((c) => query.append('choice', c));
  return (
    <Button variant="outlined" component="a" href={`/api/v1/rollback/lost?${query}`} download sx={{ mt: 1 }}>
      {t.save}
    </Button>
  );
}

/** Components named of a way, so that the confirmation stays in sight. */
const NAMED = 8;

/** What a way writes, component by component. */
function Touched({ w }: { w: Way }) {
  const others = Math.max(0, w.touched.length - NAMED) + w.more;
  if (w.touched.length === 0) return null;
  return (
    <ul aria-label={t.page.whatItWrites} style={{ margin: '8px 0 0', paddingLeft: 18, fontSize: 13 }}>
      {w.touched.slice(0, NAMED).map((one) => (
        <li key={one.component} style={{ overflowWrap: 'anywhere' }}>
          {one.component}: {t.page.touched(one.removed, one.changed, one.added)}
        </li>
      ))}
      {others > 0 && <li>{t.page.andMore(others)}</li>}
    </ul>
  );
}

/** What is lost, place by place. */
function Losses({ w }: { w: Way }) {
  return (
    <Rows label={t.lossesOf(names[w.way] ?? w.way)} heads={t.lossHeads}>
      {w.losses.map((l) => (
        <tr key={`${l.place} ${l.what}`}>
          <td style={{ overflowWrap: 'anywhere' }}>{l.place}</td>
          <td>{l.what}</td>
          <td style={{ textAlign: 'right', fontWeight: 650, color: 'var(--mui-palette-signal-fault)' }}>
            {l.count.toLocaleString('en-GB')}
          </td>
        </tr>
      ))}
    </Rows>
  );
}

/** From the last run here to now: what would be undone, and that people wrote since. */
function TimeLine({ ways }: { ways: Schemas['Ways'] }) {
  const backup = ways.ways.find((w) => w.way === 'backup');
  const open = ways.ways.some((w) => w.possible);
  const lost = Math.max(0, ...ways.ways.filter((w) => w.possible).map((w) => w.lost));
  if (!backup?.at) return null;
  const ticks = Math.min(24, lost);
  return (
    <Box sx={{ mb: 2 }}>
      <svg viewBox="0 0 1000 28" width="100%" height="28" preserveAspectRatio="none" aria-hidden>
        <line
          x1="4"
          x2="996"
          y1="14"
          y2="14"
          stroke="var(--mui-palette-text-primary)"
          strokeWidth="2"
          vectorEffect="non-scaling-stroke"
        />
        <rect x="0" y="4" width="6" height="20" fill="var(--mui-palette-text-primary)" />
        {Array.from({ length: ticks }, (_, i) => (
          <line
            key={i}
            x1={40 + (i * 900) / Math.max(1, ticks)}
            x2={40 + (i * 900) / Math.max(1, ticks)}
            y1="4"
            y2="24"
            stroke="var(--mui-palette-signal-fault)"
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 2, fontSize: 12 }}>
        <span>
          {t.tookBackup(backup.run ?? '')} <Time at={backup.at} />
        </span>
        <span>{!open ? t.dependsOnChoice : lost > 0 ? t.writtenSince(lost) : t.nothingSince}</span>
        <span>{t.now}</span>
      </Box>
    </Box>
  );
}
