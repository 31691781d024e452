import { Alert, Typography } from '@mui/material';
import { Go, Time } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { t } from './texts';

/** What was changed of what it must pass since it was prepared, and what waits to be. */
export function Guards({ of }: { of: Promotion['guards'] }) {
  if (of.length === 0) return null;
  return (
    <Alert severity="info" sx={{ mb: 2, overflowWrap: 'anywhere' }}>
      <Typography sx={{ fontWeight: 650 }}>{t.guards.title}</Typography>
      <ul style={{ margin: 0, paddingLeft: 18 }}>
        {of.map((g) => (
          <li key={g.number}>
            {g.state === 'open' ? t.guards.waits : t.guards.changed} {t.guards.by(g.what, g.by, g.second)}{' '}
            <Time at={g.at} />
            {g.state === 'alone' && t.guards.alone}: {g.words} (<Go to="/setup/proposals">{g.number}</Go>)
          </li>
        ))}
      </ul>
    </Alert>
  );
}
