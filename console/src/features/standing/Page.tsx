import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { color, Mark } from '../../shared/ui/Mark';
import { Empty, Go, Loading, PageTitle, Problem, State, Time } from '../../shared/ui/parts';
import { standing } from './api';
import { t } from './texts';
import { cellsOf, linkOf, notGood, onTheWay } from './model';

/** Where every version is. A good cell carries no hue; whatever is coloured deserves a look. */
export default function StandingPage() {
  const s = useQuery(standing());
  if (s.error) return <Problem error={s.error} />;
  if (!s.data) return <Loading what={t.page.loading} />;
  const { stages, lines } = s.data;
  return (
    <>
      <PageTitle
        title={t.page.title}
        note={
          <>
            {t.page.looked} <Time at={s.data.at} />
          </>
        }
      />
      <Heads data={s.data} />
      {lines.length === 0 ? (
        <Empty>
          {t.page.noApplicationIsRegisteredThat} <Go to="/stages">{t.page.setUpStages}</Go>{' '}
          {t.page.firstThenRegisterAnApplication}
        </Empty>
      ) : (
        <Box
          role="table"
          aria-label={t.page.applicationsByStage}
          sx={{ bgcolor: 'background.paper', border: '1px solid var(--mui-palette-divider)' }}
        >
          <Box
            role="row"
            sx={{
              display: { xs: 'none', sm: 'grid' },
              gridTemplateColumns: `220px repeat(${stages.length}, minmax(0, 1fr))`,
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
            {stages.map((st) => (
              <StageHead key={st.key} stage={st} lines={lines} />
            ))}
          </Box>
          {lines.map((l) => (
            <Line key={l.application} line={l} stages={stages} />
          ))}
        </Box>
      )}
    </>
  );
}

function Heads({ data }: { data: Schemas['StandingView'] }) {
  const you = data.waiting > 0;
  const next = onTheWay(data);
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
        {next.length === 0 ? (
          <Typography variant="body2" color="textSecondary">
            {t.page.nothingIsOnItsWay}
          </Typography>
        ) : (
          next.slice(0, 3).map((n) => (
            <Typography key={n.link + n.site} variant="body2" component="div" sx={{ overflowWrap: 'anywhere' }}>
              <Go to={n.link}>
                {n.application} {n.text}
              </Go>
            </Typography>
          ))
        )}
        {next.length > 3 && (
          <Typography variant="caption" color="textSecondary">
            {t.page.andMore(next.length - 3)}
          </Typography>
        )}
      </Box>
    </Box>
  );
}

function StageHead({ stage, lines }: { stage: Schemas['StageHead']; lines: Schemas['StandingLine'][] }) {
  const bad = notGood(lines, stage.key);
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
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, fontSize: 12 }}>
        {bad.length === 0 ? (
          <Typography variant="caption" color="textSecondary">
            {t.page.allGood}
          </Typography>
        ) : (
          bad.map(([c, n]) => (
            <Box
              key={c}
              component="span"
              sx={{ display: 'inline-flex', gap: 0.5, alignItems: 'center', color: color(c) }}
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
  return (
    <Box
      role="row"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: `220px repeat(${stages.length}, minmax(0, 1fr))` },
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
      {stages.map((st) => (
        <Box
          role="cell"
          key={st.key}
          sx={{ p: 1.5, borderLeft: { sm: '1px solid var(--mui-palette-divider)' }, minWidth: 0 }}
        >
          <Typography variant="caption" color="textSecondary" sx={{ display: { sm: 'none' } }}>
            {st.name}
            {st.production ? t.page.production : ''}
          </Typography>
          {cellsOf(line, st.key).map((c) => (
            <Cell key={c.site} application={line.application} cell={c} several={cellsOf(line, st.key).length > 1} />
          ))}
        </Box>
      ))}
    </Box>
  );
}

function Cell({
  application,
  cell,
  several,
}: {
  application: string;
  cell: Schemas['StandingCell'];
  several: boolean;
}) {
  const good = cell.condition === 'good';
  const to = linkOf(cell.link);
  return (
    <Box sx={{ mb: 0.5 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 1.5 }}>
        {several && <Typography variant="caption">{cell.site.split('/')[1]}</Typography>}
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
              <Time at={cell.since} />
            ) : (
              <>
                {t.page.notJudgedYet} <Time at={cell.since} />
              </>
            )}
          </Typography>
        )}
      </Box>
      {cell.note && (
        <Typography variant="caption" color="textSecondary" component="div" sx={{ overflowWrap: 'anywhere' }}>
          {cell.note}
        </Typography>
      )}
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
            <Go to={`/rollback/${application}/${cell.site}`}>{t.page.waysBack}</Go>
          </>
        )}
      </Typography>
    </Box>
  );
}
