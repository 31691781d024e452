import { Box, Button, Typography } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { lazy, Suspense, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { color, Mark } from '../../shared/ui/Mark';
import { Empty, Go, Loading, PageTitle, Problem, State, Time } from '../../shared/ui/parts';
import { standing } from './api';
import { t } from './texts';
import { groupsOf, joined, linkOf, notGood, type Group } from './model';

/** Asked for only where there is much to find. */
const Find = lazy(() => import('../../shared/ui/Find'));

/** A line before it was measured: two lines of text. */
const LINE = 64;

/** Lines that are drawn beyond the screen, and from how many before the end more are read. */
const AHEAD = 12;

/**
 * Where every version is. A good cell carries no hue; whatever is coloured deserves a look. Only lines on the
 * screen are drawn, so five hundred cost no more than five.
 */
export default function StandingPage() {
  const [params, setParams] = useSearchParams();
  const wanted = {
    find: params.get('find') ?? '',
    stage: params.get('stage') ?? '',
    condition: params.get('condition') ?? '',
  };
  const s = useInfiniteQuery(standing(wanted));
  const last = s.data?.pages.at(-1);
  if (s.error) return <Problem error={s.error} />;
  if (!last) return <Loading what={t.page.loading} />;
  const want = (next: Partial<typeof wanted>) =>
    setParams(
      Object.entries({ ...wanted, ...next }).filter(([, v]) => v),
      { replace: true },
    );
  const lines = s.data?.pages.flatMap((p) => p.lines) ?? [];
  const asked = Object.values(wanted).some(Boolean);
  return (
    <>
      <PageTitle
        title={t.page.title}
        note={
          <>
            {t.page.looked} <Time at={last.at} />
          </>
        }
      >
        <Go to="/standing/past">{t.past.link}</Go>
        {last.applications > FEW && (
          <Suspense>
            <Find label={t.page.find} value={wanted.find} onChange={(find) => want({ find })} />
          </Suspense>
        )}
      </PageTitle>
      <Heads data={last} />
      {asked && (
        <Typography role="status" variant="body2" sx={{ mb: 1 }}>
          {t.page.found(last.found, last.applications, [wanted.find, wanted.condition, wanted.stage])}{' '}
          <Button size="small" onClick={() => setParams({}, { replace: true })}>
            {t.page.clear}
          </Button>
        </Typography>
      )}
      {last.applications === 0 ? (
        <Empty>
          {t.page.noApplicationIsRegisteredThat} <Go to="/setup/stages">{t.page.setUpStages}</Go>{' '}
          {t.page.firstThenRegisterAnApplication}
        </Empty>
      ) : lines.length === 0 ? (
        <Empty>{t.page.nothingMatches}</Empty>
      ) : (
        <Box
          role="table"
          aria-label={t.page.applicationsByStage}
          aria-rowcount={last.found + 1}
          sx={{ bgcolor: 'background.paper', border: '1px solid var(--mui-palette-divider)' }}
        >
          <Box
            role="row"
            aria-rowindex={1}
            sx={{
              display: { xs: 'none', sm: 'grid' },
              gridTemplateColumns: columns(last.stages.length),
            }}
          >
            <Box role="columnheader" sx={{ p: 1.5 }}>
              <Typography variant="h3" component="div">
                {t.page.application}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {t.page.worstFirst}
              </Typography>
            </Box>
            {last.stages.map((st) => (
              <StageHead
                key={st.key}
                stage={st}
                chosen={wanted.stage === st.key ? wanted.condition : ''}
                choose={(condition) => want({ stage: condition && st.key, condition })}
              />
            ))}
          </Box>
          <Lines lines={lines} stages={last.stages} more={s} />
        </Box>
      )}
    </>
  );
}

/** With so many applications or fewer everything is on one page, and finding is looking. */
const FEW = 8;

const columns = (stages: number) => `220px repeat(${stages}, minmax(0, 1fr))`;

function Lines({
  lines,
  stages,
  more,
}: {
  lines: Schemas['StandingLine'][];
  stages: Schemas['StageHead'][];
  more: { hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown };
}) {
  const top = useRef<HTMLDivElement>(null);
  const [margin, setMargin] = useState(0);
  useLayoutEffect(() => setMargin(top.current?.offsetTop ?? 0), []);
  const list = useWindowVirtualizer({
    count: lines.length,
    estimateSize: () => LINE,
    overscan: AHEAD,
    scrollMargin: margin,
    getItemKey: (i) => lines[i]?.application ?? i,
  });
  const drawn = list.getVirtualItems();
  const end = drawn.at(-1)?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = more;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && end >= lines.length - AHEAD) fetchNextPage();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage, end, lines.length]);
  return (
    <Box ref={top} role="rowgroup" sx={{ position: 'relative', height: list.getTotalSize() }}>
      {drawn.map((v) => {
        const line = lines[v.index];
        return (
          line && (
            <Box
              key={v.key}
              ref={list.measureElement}
              data-index={v.index}
              role="row"
              aria-rowindex={v.index + 2}
              sx={{ position: 'absolute', top: 0, left: 0, right: 0 }}
              style={{ transform: `translateY(${v.start - margin}px)` }}
            >
              <Line line={line} stages={stages} />
            </Box>
          )
        );
      })}
    </Box>
  );
}

function Heads({ data }: { data: Schemas['StandingView'] }) {
  const you = data.waiting > 0;
  const next = data.goingIntoProduction;
  const panel = { bgcolor: 'background.paper', border: '1px solid var(--mui-palette-divider)', p: 1.5, minHeight: 94 };
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'repeat(3, minmax(0, 1fr))' },
        gap: 1.5,
        mb: 1.5,
      }}
    >
      <Box
        component={Link}
        to="/waiting"
        sx={{
          ...panel,
          textDecoration: 'none',
          color: 'inherit',
          ...(you
            ? { bgcolor: 'var(--mui-palette-signal-youT)', borderLeft: '4px solid var(--mui-palette-signal-you)' }
            : {}),
        }}
      >
        <Typography
          component="div"
          sx={{
            fontSize: 32,
            lineHeight: '40px',
            fontWeight: 620,
            color: you ? 'var(--mui-palette-signal-you)' : 'text.primary',
          }}
        >
          {data.waiting}
        </Typography>
        {you ? (
          <State word={t.page.waitingForYou} />
        ) : (
          <Typography color="textSecondary">{t.page.nothingWaitsForYou}</Typography>
        )}
      </Box>
      <Box sx={{ ...panel, borderTop: '5px double var(--mui-palette-text-primary)' }}>
        <Typography component="div">
          <Box component="span" sx={{ fontSize: 32, lineHeight: '40px', fontWeight: 620, mr: 1 }}>
            {data.goodInProduction}
          </Box>
          {t.page.ofGoodInProduction(data.inProduction)}
        </Typography>
        <Typography variant="body2" color="textSecondary">
          {t.page.ofThoseYouMaySee(
            data.inProduction > data.goodInProduction
              ? `; ${plural(data.inProduction - data.goodInProduction, t.page.needsALook, t.page.needALook)}`
              : '',
          )}
        </Typography>
      </Box>
      <Box sx={panel}>
        <Typography variant="h3" component="div" sx={{ mb: 0.5 }}>
          {t.page.nextInProduction}
        </Typography>
        {next.count === 0 ? (
          <Typography variant="body2" color="textSecondary">
            {t.page.nothingIsOnItsWay}
          </Typography>
        ) : (
          next.items.slice(0, 3).map(({ application, cell }) => (
            <Typography key={application + cell.site} variant="body2" component="div" sx={{ overflowWrap: 'anywhere' }}>
              <Go to={linkOf(cell.link) ?? '/promotions'}>
                {application} {cell.activityText}
              </Go>
            </Typography>
          ))
        )}
        {next.count > 3 && (
          <Typography variant="caption" color="textSecondary">
            {t.page.andMore(next.count - 3)}
          </Typography>
        )}
      </Box>
    </Box>
  );
}

function StageHead({
  stage,
  chosen,
  choose,
}: {
  stage: Schemas['StageHead'];
  chosen: string;
  choose: (condition: string) => void;
}) {
  const bad = notGood(stage);
  return (
    <Box
      role="columnheader"
      sx={{
        p: 1.5,
        borderLeft: '1px solid var(--mui-palette-divider)',
        ...(stage.production ? { borderTop: '5px double var(--mui-palette-text-primary)' } : {}),
      }}
    >
      <Typography variant="h3" component="div">
        {stage.name}
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1, fontSize: 12 }}>
        {bad.length === 0 ? (
          <Typography variant="caption" color="textSecondary">
            {t.page.allGood}
          </Typography>
        ) : (
          bad.map(([c, n]) => (
            <Box
              key={c}
              component="button"
              type="button"
              aria-pressed={chosen === c}
              title={t.page.onlyThese(c, stage.name)}
              onClick={() => choose(chosen === c ? '' : c)}
              sx={{
                display: 'inline-flex',
                gap: 0.5,
                alignItems: 'center',
                minHeight: 24,
                px: 0.5,
                ml: -0.5,
                font: 'inherit',
                color: color(c),
                bgcolor: 'transparent',
                border: 0,
                // none where it is not chosen: in forced colours a transparent border shows
                ...(chosen === c ? { borderBottom: '2px solid currentColor' } : {}),
                cursor: 'pointer',
              }}
            >
              <Mark of={c} size={12} /> {n} {c}
            </Box>
          ))
        )}
      </Box>
    </Box>
  );
}

function Line({ line, stages }: { line: Schemas['StandingLine']; stages: Schemas['StageHead'][] }) {
  const groups = stages.map((st) => groupsOf(line, st.key));
  return (
    <Box
      role="presentation"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: columns(stages.length) },
        borderTop: '1px solid var(--mui-palette-divider)',
        minHeight: 64,
      }}
    >
      <Box role="rowheader" sx={{ p: 1.5 }}>
        <Box
          component={Link}
          to={`/applications/${line.application}`}
          sx={{
            fontWeight: 650,
            color: 'text.primary',
            textDecoration: 'none',
            display: 'block',
            '&:hover': { textDecoration: 'underline' },
          }}
        >
          {line.name}
        </Box>
        <Typography variant="caption" color="textSecondary">
          {t.page.newest(line.newest ?? t.page.noneYet, line.owner)}
        </Typography>
        {line.seen.changed > 0 && (
          <Typography variant="caption" component="div" color="textSecondary">
            {t.page.changedAtTheSince(
              plural(line.seen.changed, 'component', 'components'),
              line.source === 'repository' ? t.page.repository : t.page.source,
            )}
            {line.seen.against}
          </Typography>
        )}
        {(line.seen.trouble || line.seen.warning) && (
          <Typography
            variant="caption"
            component="div"
            sx={{ color: 'var(--mui-palette-signal-caution)', overflowWrap: 'anywhere' }}
          >
            {line.seen.trouble || line.seen.warning}
          </Typography>
        )}
        {!line.newest && (
          <Box>
            <Go to={`/applications/${line.application}/adopt`}>{t.page.adoptWhatIsThere}</Go>
          </Box>
        )}
      </Box>
      {stages.map((st, n) => (
        <Box
          role="cell"
          key={st.key}
          sx={{ p: 1.5, borderLeft: { sm: '1px solid var(--mui-palette-divider)' }, minWidth: 0, position: 'relative' }}
        >
          <Typography variant="caption" color="textSecondary" sx={{ display: { sm: 'none' } }}>
            {st.name}
            {st.production ? t.page.production : ''}
          </Typography>
          {groups[n]?.map((g, i) => (
            <Cell
              key={g.cell.site}
              application={line.application}
              group={g}
              several={(groups[n]?.length ?? 0) > 1 || g.sites.length > 1}
              from={i === 0 && joined(groups[n - 1], groups[n])}
              on={i === 0 && joined(groups[n], groups[n + 1])}
            />
          ))}
        </Box>
      ))}
    </Box>
  );
}

/** The hairline that joins equal versions from stage to stage; where it ends, a version has not come further. */
const hairline = { borderTop: '1px solid var(--mui-palette-text-secondary)', height: 0 } as const;

function Cell({
  application,
  group,
  several,
  from,
  on,
}: {
  application: string;
  group: Group;
  /** Whether it is said which sites are meant. */
  several: boolean;
  /** Whether the stage before has the same version, and whether the next has. */
  from: boolean;
  on: boolean;
}) {
  const cell = group.cell;
  const good = cell.condition === 'good';
  const to = linkOf(cell.link);
  return (
    <Box sx={{ mb: 0.5 }}>
      <Box
        sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 1.5, position: 'relative' }}
        data-joined={[from && 'from', on && 'on'].filter(Boolean).join(' ') || undefined}
      >
        {from && (
          <Box
            aria-hidden
            sx={{
              ...hairline,
              position: 'absolute',
              left: -12,
              width: 9,
              top: 10,
              display: { xs: 'none', sm: 'block' },
            }}
          />
        )}
        {several && <Typography variant="caption">{group.sites.join(', ')}</Typography>}
        {cell.version && (
          <Box
            component={Link}
            data-item
            to={`/versions/${application}/${cell.version}`}
            sx={{
              fontWeight: 650,
              color: 'text.primary',
              textDecoration: 'none',
              fontVariantNumeric: 'tabular-nums',
              '&:hover': { textDecoration: 'underline' },
            }}
          >
            {cell.version}
          </Box>
        )}
        {good ? (
          <Box
            component="span"
            sx={{ position: 'absolute', width: '1px', height: '1px', overflow: 'hidden', clipPath: 'inset(50%)' }}
          >
            {t.page.good}
          </Box>
        ) : (
          <State word={cell.condition} />
        )}
        {good && (
          <Typography component="span" variant="caption" color="textSecondary">
            {cell.judged ? (
              <Time at={group.since} />
            ) : (
              <>
                {t.page.notJudgedYet} <Time at={group.since} />
              </>
            )}
          </Typography>
        )}
        {on && (
          <Box aria-hidden sx={{ ...hairline, flex: 1, minWidth: 8, mr: -1.5, display: { xs: 'none', sm: 'block' } }} />
        )}
      </Box>
      {cell.note && (
        <Typography variant="caption" color="textSecondary" component="div" sx={{ overflowWrap: 'anywhere' }}>
          {cell.note}
        </Typography>
      )}
      {cell.yesOwed.map((o) => (
        <Typography
          key={o.promotion}
          variant="caption"
          component="div"
          sx={{ color: `var(--mui-palette-signal-${o.overdue ? 'fault' : 'caution'})` }}
        >
          <Go to={`/promotions/${o.promotion}`}>{o.promotion}</Go> {o.overdue ? t.overdue : t.owesYes}{' '}
          <Time at={o.until} />
        </Typography>
      ))}
      {cell.closedBy && (
        <Typography variant="caption" component="div" sx={{ color: 'var(--mui-palette-signal-caution)' }}>
          {t.closed(cell.closedBy)}
        </Typography>
      )}
      {cell.activity && (
        <Box
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 0.75,
            color: color(cell.activity),
            fontSize: 13,
            fontWeight: 600,
            overflowWrap: 'anywhere',
            minWidth: 0,
          }}
        >
          <Mark of={cell.activity} size={14} />
          {to ? (
            <Box component={Link} to={to} sx={{ color: 'inherit' }}>
              {cell.activityText}
            </Box>
          ) : (
            cell.activityText
          )}
        </Box>
      )}
      <Typography variant="caption" color="textSecondary" component="div">
        {[cell.behind > 0 ? `${cell.behind} behind` : '', ...cell.owes.map((o) => `owes ${o}`)]
          .filter(Boolean)
          .join(' · ')}
        {cell.version && !['good', 'never here'].includes(cell.condition) && (
          <>
            {' '}
            {cell.condition === 'drifted' && (
              <>
                <Go to={`/drift/${application}/${cell.site}`}>{t.page.whatDiffers}</Go> ·{' '}
              </>
            )}
            <Go to={`/rollback/${application}/${cell.site}`}>{t.page.waysBack}</Go>
          </>
        )}
      </Typography>
    </Box>
  );
}
