import { Box, Typography } from '@mui/material';
import { useQueries, useQuery } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Go, Panel, State, Time } from '../../shared/ui/parts';
import { linkOf, type Group } from '../standing/model';
import { needs } from './api';
import { stops, type Stop } from './path';
import { t } from './texts';

/**
 * How far each version has come: a ruled line from the source to the last stage, with a mark a stage. It is a
 * list; the line is drawn beside it, and stands upright where there is no room.
 */
export function PathPicture({
  application,
  legs,
  stages,
}: {
  application: string;
  legs: string[];
  stages: Schemas['StageView'][];
}) {
  const q = useQuery({
    queryKey: ['standing', 'one', application],
    queryFn: () => unwrap(client.GET('/api/v1/standing', { params: { query: { find: application, limit: 100 } } })),
    refetchInterval: 15_000,
  });
  const line = q.data?.lines.find((l) => l.application === application);
  if (!line || legs.length === 0) return null;
  const path = stops(line, legs, stages);
  return (
    <Panel>
      <Box
        component="ol"
        aria-label={t.path.label}
        sx={{
          listStyle: 'none',
          m: 0,
          p: 0,
          display: 'grid',
          gap: { xs: 2, md: 0 },
          gridTemplateColumns: { xs: '1fr', md: `repeat(${path.length + 1}, minmax(0, 1fr))` },
        }}
      >
        <Place mark="source" level last={false}>
          <Source
            line={line}
            name={stages.find((s) => s.key === line.source)?.name ?? t.path.sources[line.source] ?? line.source}
          />
        </Place>
        {path.map((stop, i) => (
          <Place
            key={stop.stage}
            mark={
              stop.groups.every((g) => !g.cell.version)
                ? 'empty'
                : stop.groups.some((g) => g.cell.behind > 0)
                  ? 'behind'
                  : 'newest'
            }
            level={path[i + 1]?.level ?? true}
            last={i === path.length - 1}
          >
            <At stop={stop} before={path[i - 1]?.name ?? t.path.newestOf} application={application} />
          </Place>
        ))}
      </Box>
    </Panel>
  );
}

/** The line where the places stand below one another: from this mark to the next. */
const upright = (level: boolean) => ({
  '&::before': {
    content: '""',
    display: { md: 'none' },
    position: 'absolute',
    left: 7.5,
    top: 14,
    bottom: -20,
    borderLeft: `1px ${level ? 'solid' : 'dotted'} var(--mui-palette-text-primary)`,
  },
});

/** One place on the line. The line goes on whole where the next place has the same, and dotted where it has not. */
function Place({
  mark,
  level,
  last,
  children,
}: {
  mark: 'source' | 'empty' | 'behind' | 'newest';
  level: boolean;
  last: boolean;
  children: React.ReactNode;
}) {
  const ink = 'var(--mui-palette-text-primary)';
  const rule = level ? undefined : '2 4';
  return (
    <Box
      component="li"
      sx={{ position: 'relative', ...(last ? {} : upright(level)), pl: { xs: 3.5, md: 0 }, pr: { md: 2 }, minWidth: 0 }}
    >
      <Box
        component="svg"
        aria-hidden
        sx={{
          position: { xs: 'absolute', md: 'static' },
          left: 0,
          top: 0,
          width: { xs: 16, md: '100%' },
          height: 16,
          display: 'block',
          mb: 0.75,
          overflow: 'visible',
        }}
      >
        {!last && (
          <Box
            component="line"
            x1={8}
            y1={8}
            x2="100%"
            y2={8}
            stroke={ink}
            strokeDasharray={rule}
            sx={{ display: { xs: 'none', md: 'inline' }, transform: 'scaleX(1.06)' }}
          />
        )}
        {mark === 'source' ? (
          <rect
            x={3.5}
            y={3.5}
            width={9}
            height={9}
            fill="var(--mui-palette-background-paper)"
            stroke={ink}
            strokeWidth={1.5}
          />
        ) : (
          <circle
            cx={8}
            cy={8}
            r={mark === 'empty' ? 3 : 5}
            fill={mark === 'newest' ? ink : 'var(--mui-palette-background-paper)'}
            stroke={ink}
            strokeWidth={1.5}
          />
        )}
      </Box>
      {children}
    </Box>
  );
}

const small = { fontSize: 13, lineHeight: '18px', color: 'text.secondary', overflowWrap: 'anywhere' } as const;

function Source({ line, name }: { line: Schemas['StandingLine']; name: string }) {
  const s = line.seen;
  return (
    <>
      <Typography component="h2" sx={{ fontSize: 14, fontWeight: 650 }}>
        {name}
      </Typography>
      <Box sx={small}>{line.newest ? t.path.newest(line.newest) : t.path.noVersion}</Box>
      <Box sx={small}>
        {s.changed > 0
          ? t.path.inNoVersion(plural(s.changed, 'component', 'components'))
          : s.against
            ? t.path.asIn(s.against)
            : t.path.notLooked}
      </Box>
      {(s.trouble || s.warning) && <Box sx={small}>{s.trouble || s.warning}</Box>}
    </>
  );
}

function At({ stop, before, application }: { stop: Stop; before: string; application: string }) {
  return (
    <>
      <Typography
        component="h2"
        sx={{
          fontSize: 14,
          fontWeight: 650,
          ...(stop.production
            ? { borderTop: '3px double var(--mui-palette-text-primary)', display: 'inline-block', pt: 0.25 }
            : {}),
        }}
      >
        {stop.name}
      </Typography>
      {stop.groups.length < 2 && stop.between > 0 && (
        <Box sx={small}>{t.path.behind(plural(stop.between, 'version', 'versions'), before)}</Box>
      )}
      {stop.groups.length === 0 && <Box sx={small}>{t.path.noSite}</Box>}
      {stop.groups.map((g) => (
        <Standing key={g.sites.join()} group={g} of={stop} application={application} />
      ))}
    </>
  );
}

/** What is off at these sites: a version that is there and does nothing is no news that anybody wants to miss. */
function Off({ application, sites }: { application: string; sites: string[] }) {
  const asked = useQueries({ queries: sites.map((site) => needs(application, site)) });
  const off = asked.map((q) => (q.data ?? []).filter((n) => n.need === 'off').length);
  const all = off.reduce((a, b) => a + b, 0);
  if (all === 0) return null;
  const where = sites.filter((_, i) => off[i]).map((s) => s.split('/')[1] ?? s);
  return (
    <Box sx={small}>
      {t.path.off(plural(all, 'component', 'components'), all === 1, sites.length > 1 ? where.join(', ') : '')}
    </Box>
  );
}

function Standing({ group, of, application }: { group: Group; of: Stop; application: string }) {
  const c = group.cell;
  const link = linkOf(c.link);
  const named = of.groups.length > 1 || group.sites.length > 1;
  return (
    <Box sx={{ mt: 0.75, overflowWrap: 'anywhere' }}>
      <Box sx={{ fontSize: 15, fontWeight: 600 }}>
        {c.version ? <Go to={`/versions/${application}/${c.version}`}>{c.version}</Go> : t.path.nothing}
        {group.since && (
          <Box component="span" sx={{ ...small, ml: 1, fontWeight: 400 }}>
            <Time at={group.since} />
          </Box>
        )}
      </Box>
      {named && <Box sx={small}>{group.sites.join(', ')}</Box>}
      {c.condition !== 'good' && c.condition !== 'never here' && (
        <Box sx={small}>
          <State word={c.condition} /> {c.note}
        </Box>
      )}
      {named && of.groups.length > 1 && c.version && c.behind > 0 && (
        <Box sx={small}>{t.path.behind(plural(c.behind, 'version', 'versions'), t.path.newestOf)}</Box>
      )}
      {c.owes.length > 0 && <Box sx={small}>{t.path.lacks(c.owes.join(', '))}</Box>}
      {c.closedBy && <Box sx={small}>{t.path.closed(c.closedBy)}</Box>}
      {c.version && <Off application={application} sites={group.sites.map((s) => `${of.stage}/${s}`)} />}
      {c.activityText && <Box sx={small}>{link ? <Go to={link}>{c.activityText}</Go> : c.activityText}</Box>}
    </Box>
  );
}
