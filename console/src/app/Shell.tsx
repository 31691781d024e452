import { Box, Button, Typography, useColorScheme } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState, type ChangeEvent, type ReactNode } from 'react';
import { Link, NavLink, useNavigate } from 'react-router';
import { client, unwrap, type Schemas } from '../shared/data/api';
import { useEvents } from '../shared/data/events';
import { t } from './texts';

const Keys = lazy(() => import('./Keys'));
const FindBox = lazy(() => import('../features/find/FindBox'));

const pages: [string, string, string][] = [
  ['/standing', t.shell.whereThingsStand, 's'],
  ['/waiting', t.shell.waitingForYou, 'y'],
  ['/news', t.shell.news, 'n'],
  ['/drafts', t.shell.drafts, 'd'],
  ['/packages', t.shell.packages, 'k'],
  ['/promotions', t.shell.promotions, 'p'],
  ['/releases', t.shell.releases, 'e'],
  ['/waves', t.shell.waves, 'w'],
  ['/runs', t.shell.runs, 'r'],
  ['/calendar', t.shell.calendar, 'c'],
  ['/history', t.shell.history, 'h'],
  ['/figures', t.shell.figures, 'i'],
  ['/setup', t.shell.setup, 't'],
];

/** How much is new of what one follows; quiet where nothing is. */
function Fresh() {
  const q = useQuery({
    queryKey: ['news', 'fresh'],
    queryFn: () => unwrap(client.GET('/api/v1/notices/fresh')),
    refetchInterval: 30_000,
  });
  const n = q.data;
  if (!n || n.count === 0) return null;
  const words = t.shell.fresh(n.count, n.more);
  return (
    <Button
      size="small"
      component={Link}
      to="/news"
      aria-label={words}
      sx={{ color: n.urgent ? 'var(--mui-palette-signal-fault)' : undefined, whiteSpace: 'nowrap' }}
    >
      <Box component="span" sx={{ display: { xs: 'none', sm: 'inline' } }}>
        {words}
      </Box>
      <Box component="span" sx={{ display: { sm: 'none' } }}>
        {n.count}
      </Box>
    </Button>
  );
}

/** Head, navigation, skip link, keys. No key ever approves, starts, aborts or rolls back. */
export function Shell({ me, children }: { me: Schemas['Me']; children: ReactNode }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const connected = useEvents();
  const [help, setHelp] = useState(false);
  const [open, setOpen] = useState(false);
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    let afterG = false;
    const onKey = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (
        e.ctrlKey ||
        e.metaKey ||
        e.altKey ||
        ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName) ||
        target.isContentEditable ||
        localStorage.getItem('plenzo-keys') === 'off'
      )
        return;
      if (afterG) {
        const page = pages.find(([, , key]) => key === e.key);
        afterG = false;
        if (page) navigate(page[0]);
      } else if (e.key === 'g') afterG = true;
      else if (e.key === '?') setHelp(true);
      else if (e.key === '/') {
        e.preventDefault();
        setFinding(true);
      } else if (e.key === 'f') {
        const find = document.querySelector<HTMLInputElement>('input[data-find]');
        if (find) {
          e.preventDefault();
          find.focus();
        }
      } else if (e.key === 'j' || e.key === 'k') {
        const items = [...document.querySelectorAll<HTMLElement>('main [data-item]')];
        const at = items.indexOf(document.activeElement as HTMLElement);
        items[Math.max(0, Math.min(items.length - 1, at + (e.key === 'j' ? 1 : -1)))]?.focus();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [navigate]);
  const signOut = async () => {
    await unwrap(client.DELETE('/api/v1/session'));
    queries.clear();
    location.assign('/');
  };
  return (
    <Box
      sx={{
        minHeight: '100vh',
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '184px minmax(0, 1fr)' },
        gridTemplateRows: '48px auto',
      }}
    >
      <Box
        component="a"
        href="#main"
        sx={{
          position: 'absolute',
          left: -9999,
          '&:focus': { left: 8, top: 8, zIndex: 10, bgcolor: 'background.paper', p: 1 },
        }}
      >
        {t.shell.skipToThePage}
      </Box>
      <Box
        component="header"
        sx={{
          gridColumn: '1 / -1',
          display: 'flex',
          alignItems: 'center',
          gap: { xs: 0.5, sm: 2 },
          px: { xs: 1, sm: 2 },
          // five things stand beside one another on the narrowest screen
          '& .MuiButton-root': { minWidth: { xs: 0, sm: 64 } },
          bgcolor: 'background.paper',
          borderBottom: '1px solid var(--mui-palette-divider)',
          position: 'sticky',
          top: 0,
          zIndex: 5,
          minWidth: 0,
        }}
      >
        <Button onClick={() => setOpen(!open)} aria-expanded={open} sx={{ display: { md: 'none' }, minWidth: 0 }}>
          {t.shell.menu}
        </Button>
        <Typography component="span" sx={{ fontWeight: 650, fontSize: 15 }}>
          {t.shell.plenzo}
        </Typography>
        <Typography
          component="span"
          variant="body2"
          color="textSecondary"
          sx={{ flex: 1, display: { xs: 'none', sm: 'block' } }}
        >
          {t.shell.press} <kbd>?</kbd> {t.shell.forKeys}
        </Typography>
        <Box sx={{ flex: { xs: 1, sm: 'none' } }} />
        <Typography
          component="span"
          role="status"
          variant="body2"
          sx={{
            color: connected ? 'text.secondary' : 'var(--mui-palette-signal-caution)',
            display: { xs: 'none', sm: 'block' },
          }}
        >
          {connected ? '' : t.shell.notConnectedWhatYouSee}
        </Typography>
        <Fresh />
        <Button size="small" onClick={() => setFinding(true)}>
          {t.shell.find}
        </Button>
        <Button size="small" component={Link} to="/you" title={me.name} aria-label={t.shell.you(me.login)}>
          {me.login}
        </Button>
        <Button size="small" onClick={signOut} sx={{ whiteSpace: 'nowrap' }}>
          {t.shell.signOut}
        </Button>
      </Box>
      <Box
        component="nav"
        aria-label={t.shell.pages}
        sx={{
          display: { xs: open ? 'block' : 'none', md: 'block' },
          borderRight: '1px solid var(--mui-palette-divider)',
          py: 1,
        }}
      >
        {pages.map(([to, name]) => (
          <Box
            key={to}
            component={NavLink}
            to={to}
            onClick={() => setOpen(false)}
            sx={{
              display: 'block',
              px: 2,
              py: 1,
              color: 'text.primary',
              textDecoration: 'none',
              fontSize: 14,
              // a border, and only here: in forced colours shadows go and transparent borders show
              '&.active': { fontWeight: 650, borderLeft: '4px solid var(--mui-palette-text-primary)', pl: '12px' },
              '&:hover': { bgcolor: 'var(--mui-palette-signal-sunken)' },
            }}
          >
            {name}
          </Box>
        ))}
        <Box sx={{ px: 2, pt: 3 }}>
          <Scheme />
        </Box>
      </Box>
      <Box component="main" id="main" sx={{ p: 2, minWidth: 0, gridColumn: { xs: '1', md: '2' } }}>
        {children}
      </Box>
      {finding && (
        <Suspense>
          <FindBox onClose={() => setFinding(false)} />
        </Suspense>
      )}
      {help && (
        <Suspense>
          <Keys pages={pages} onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </Box>
  );
}

/** A plain choice: the first view of the console needs no menu of its own for it. */
function Scheme() {
  const { mode, setMode } = useColorScheme();
  return (
    <Box component="label" sx={{ display: 'block', fontSize: 12, color: 'text.secondary' }}>
      {t.shell.look}
      <Box
        component="select"
        value={mode ?? 'system'}
        onChange={(e: ChangeEvent<HTMLSelectElement>) => {
          const next = e.target.value as 'system' | 'light' | 'dark';
          localStorage.setItem('plenzo-scheme', next);
          setMode(next);
        }}
        sx={{
          display: 'block',
          width: '100%',
          height: 40,
          mt: 0.5,
          px: 1,
          font: 'inherit',
          fontSize: 14,
          color: 'text.primary',
          bgcolor: 'background.paper',
          border: '1px solid var(--mui-palette-divider)',
          borderRadius: 1,
        }}
      >
        <option value="system">{t.shell.asTheSystem}</option>
        <option value="light">{t.shell.light}</option>
        <option value="dark">{t.shell.dark}</option>
      </Box>
    </Box>
  );
}
