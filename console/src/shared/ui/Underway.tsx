import { Box, LinearProgress, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { client, unwrap, type Schemas } from '../data/api';
import { duration } from '../time';
import { Band, Go, Time } from './parts';
import { t } from './texts';

export type Work = Schemas['UnderwayView'];

/** How often it is asked how far something is. */
const OFTEN = 1000;

export const works = (about?: string) => ({
  queryKey: ['underway', about ?? ''],
  queryFn: () => unwrap(client.GET('/api/v1/underway', { params: { query: { about } } })),
});

/** "12 of 40 components, at records/fares.booking, 120,000 rows; about 12 s to go" */
export function far(w: Work): string {
  const counted = w.of > 0 ? t.underway.counted(w.done, w.of, w.unit) : '';
  const parts = [counted, w.at && t.underway.at(w.at)].filter(Boolean).join(', ');
  const left = w.secondsLeft != null ? t.underway.left(duration(w.secondsLeft)) : '';
  return (parts || t.underway.begun) + left;
}

/**
 * How far something is that takes its time, whoever began it, here or elsewhere: the page can be left and opened
 * again. What it touched is read anew when it has ended.
 */
export function Underway({
  about,
  busy,
  touched = [],
}: {
  about: string;
  /** Whether it was begun from here just now. */
  busy?: boolean;
  touched?: string[];
}) {
  const queries = useQueryClient();
  const q = useQuery({
    ...works(about),
    refetchInterval: (it) => (busy || it.state.data?.some((w) => !w.ended) ? OFTEN : false),
    refetchOnMount: 'always',
  });
  const going = q.data?.filter((w) => !w.ended) ?? [];
  const before = useRef(0);
  useEffect(() => {
    if (before.current > going.length)
      touched.forEach((key) => void queries.invalidateQueries({ queryKey: [key], refetchType: 'active' }));
    before.current = going.length;
  });
  if (going.length === 0) return null;
  return (
    <Box role="status" sx={{ mb: 2 }}>
      {going.map((w) => (
        <One key={w.number} w={w} />
      ))}
    </Box>
  );
}

function One({ w }: { w: Work }) {
  return (
    <Band word="running">
      <Typography sx={{ fontWeight: 600 }}>
        {t.underway.act[w.act] ?? w.act}, {t.underway.by(w.by)} <Time at={w.began} />
      </Typography>
      <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
        {far(w)}
      </Typography>
      {w.of > 0 && (
        <LinearProgress
          variant="determinate"
          aria-label={t.underway.act[w.act] ?? w.act}
          value={Math.min(100, (100 * w.done) / w.of)}
          sx={{ my: 0.5 }}
        />
      )}
      <Typography variant="caption" color="textSecondary">
        {t.underway.goesOn(w.act)}
      </Typography>
    </Band>
  );
}

/** Where one sees what the work is about. */
export function workLink(about: string): string | undefined {
  const [sort = '', what = '', within = ''] = about.split('/');
  const [application, number] = what.split('@');
  switch (sort) {
    case 'draft':
      return `/drafts/${what}`;
    case 'promotion':
      return `/promotions/${what}`;
    case 'application':
      return `/applications/${what}/adopt`;
    case 'version':
      return `/versions/${application}/${number}`;
    case 'rollback':
      return `/rollback/${application}/${number}/${within}`;
    case 'packages':
    case 'package':
      return '/packages';
  }
  return undefined;
}

/** What one began oneself and has ended is shown so far back. */
const ENDED = 3;

/** All that goes on, then one's own that ended otherwise than well, and the newest of one's own that went well. */
export function toShow(all: Work[], me: string): Work[] {
  const own = all.filter((w) => w.ended && w.by === me);
  return [
    ...all.filter((w) => !w.ended),
    ...own.filter((w) => w.outcome),
    ...own.filter((w) => !w.outcome).slice(0, ENDED),
  ];
}

/** What takes its time now, or did a few minutes ago; nothing where there is none. */
export function AtWork() {
  const me = useQuery({
    queryKey: ['session'],
    queryFn: () => unwrap(client.GET('/api/v1/session')),
    staleTime: 60_000,
  });
  const q = useQuery({
    ...works(),
    refetchInterval: (it) => (it.state.data?.some((w) => !w.ended) ? OFTEN : 10_000),
  });
  const shown = toShow(q.data ?? [], me.data?.login ?? '');
  if (shown.length === 0) return null;
  return (
    <Box component="section" aria-label={t.underway.title} sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {t.underway.title}
      </Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.25 }}>
        {shown.map((w) => {
          const to = workLink(w.about);
          const name = `${t.underway.act[w.act] ?? w.act} ${w.about.split('/')[1] ?? ''}`.trim();
          return (
            <li key={w.number} style={{ overflowWrap: 'anywhere' }}>
              {to ? <Go to={to}>{name}</Go> : name}, {t.underway.by(w.by)} <Time at={w.began} />:{' '}
              {w.ended ? w.outcome || t.underway.done : far(w)}
            </li>
          );
        })}
      </Box>
    </Box>
  );
}
