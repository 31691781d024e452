import { Box, MenuItem, TextField } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Schemas } from '../../shared/data/api';
import { applications, versions } from './api';
import { t } from './texts';

/** One version, or none, of each application. */
export function Members({ chosen, set }: { chosen: string[]; set: (members: string[]) => void }) {
  const apps = useQuery(applications());
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
      {(apps.data ?? []).map((a) => (
        <One
          key={a.key}
          app={a}
          value={chosen.find((m) => m.startsWith(`${a.key}@`)) ?? ''}
          set={(m) => set([...chosen.filter((x) => !x.startsWith(`${a.key}@`)), ...(m ? [m] : [])])}
        />
      ))}
    </Box>
  );
}

function One({ app, value, set }: { app: Schemas['ApplicationView']; value: string; set: (member: string) => void }) {
  const all = useQuery(versions(app.key));
  return (
    <TextField
      select
      size="small"
      label={app.name}
      value={all.data ? value : ''}
      onChange={(e) => set(e.target.value)}
      sx={{ minWidth: 220 }}
    >
      <MenuItem value="">{t.choose}</MenuItem>
      {(all.data ?? [])
        .filter((v) => !v.withdrawn)
        .map((v) => (
          <MenuItem key={v.number} value={`${app.key}@${v.number}`}>
            {v.number} {v.title}
          </MenuItem>
        ))}
    </TextField>
  );
}
