import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { full } from '../../shared/time';
import { segments } from './model';
import { t } from './texts';

/** Which version was at a site when, oldest left; its facts stand in the table below too. */
export function Band({ application, site }: { application: string; site: string }) {
  const [stage = '', key = ''] = site.split('/');
  const q = useQuery({
    queryKey: ['standing', 'record', application, site],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/records/{application}/{stage}/{site}', {
          params: { path: { application, stage, site: key } },
        }),
      ),
  });
  const all = segments(q.data?.placements ?? [], new Date());
  if (all.length === 0) return null;
  return (
    <Box component="section" aria-label={t.band.versionsAt(site)} sx={{ mb: 2 }}>
      <Typography variant="caption" color="textSecondary">
        {t.band.oldestLeftWidthsAreNot(site)}
      </Typography>
      <Box
        component="ol"
        sx={{
          display: 'flex',
          m: 0,
          p: 0,
          listStyle: 'none',
          borderTop: '2px solid var(--mui-palette-text-primary)',
          overflowX: 'auto',
        }}
      >
        {all.map((s) => (
          <Box
            key={s.at}
            component="li"
            title={t.band.by(full(s.at), s.by)}
            sx={{
              flex: `${s.share} 1 76px`,
              minWidth: 76,
              borderLeft: '2px solid var(--mui-palette-text-primary)',
              pl: 0.75,
              pt: 0.5,
              fontSize: 12,
              lineHeight: '16px',
            }}
          >
            <Box
              component={Link}
              to={s.run ? `/runs/${s.run}` : `/versions/${application}/${s.version}`}
              sx={{ color: 'text.primary', fontWeight: 650, fontSize: 13 }}
            >
              {s.version}
            </Box>
            <Box sx={{ color: s.how === 'rollback' ? 'var(--mui-palette-signal-caution)' : 'text.secondary' }}>
              {s.words}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
