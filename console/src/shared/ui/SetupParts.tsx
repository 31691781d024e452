import { Box } from '@mui/material';
import { NavLink, useLocation } from 'react-router';
import { t } from './texts';

/** Everything that is set up, in the order in which it is done. */
export const SETUP_PARTS: [to: string, name: string][] = [
  ['/setup/stages', t.setup.stages],
  ['/setup/paths', t.setup.paths],
  ['/setup/applications', t.setup.applications],
  ['/setup/people', t.setup.people],
  ['/setup/roles', t.setup.roles],
  ['/setup/keys', t.setup.keys],
  ['/setup/values', t.setup.values],
  ['/setup/telling', t.setup.telling],
  ['/setup/retention', t.setup.retention],
  ['/setup/proposals', t.setup.proposals],
];

/** The part that a page belongs to which lies elsewhere. */
const belongs: [RegExp, string][] = [
  [/^\/setup\/connections\//, '/setup/stages'],
  [/^\/applications\/[^/]+\/values\//, '/setup/values'],
];

/** The way around the set-up, on each of its pages. */
export function SetupParts() {
  const { pathname } = useLocation();
  const part = belongs.find(([page]) => page.test(pathname))?.[1];
  return (
    <Box
      component="nav"
      aria-label={t.setup.label}
      sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2.5, rowGap: 0.5, mb: 1.5 }}
    >
      {[['/setup', t.setup.all] as [string, string], ...SETUP_PARTS].map(([to, name]) => (
        <Box
          key={to}
          component={NavLink}
          to={to}
          end={to === '/setup'}
          className={to === part ? 'active' : undefined}
          sx={{
            color: 'text.primary',
            fontSize: 13,
            py: 0.5,
            textDecoration: 'none',
            '&.active': { fontWeight: 650, borderBottom: '2px solid var(--mui-palette-text-primary)', pb: '2px' },
            '&:hover': { textDecoration: 'underline' },
          }}
        >
          {name}
        </Box>
      ))}
    </Box>
  );
}
