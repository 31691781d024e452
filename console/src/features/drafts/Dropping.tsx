import { Alert, Box } from '@mui/material';
import type { Schemas } from '../../shared/data/api';
import { Act } from '../../shared/ui/parts';
import { t } from './texts';

/** What goes with a component, said before it is taken out of the draft. */
export function Dropping({
  what,
  busy,
  drop,
  leave,
}: {
  what: Schemas['DroppingView'];
  busy: boolean;
  drop: () => void;
  leave: () => void;
}) {
  const stays = what.stays !== '';
  return (
    <Alert severity="warning" sx={{ my: 1 }}>
      {stays ? t.dropping.stays(what.component, what.stays) : t.dropping.goesToo(what.component, what.goes.length)}
      {!stays && (
        <ul style={{ margin: 0, paddingLeft: 18 }}>
          {what.goes.map((g) => (
            <li key={g.component} style={{ overflowWrap: 'anywhere' }}>
              {g.component}, {g.reason}
            </li>
          ))}
        </ul>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: 1 }}>
        {!stays && (
          <Act kind="outlined" busy={busy} onClick={drop}>
            {t.dropping.drop(what.goes.length + 1)}
          </Act>
        )}
        <Act kind="outlined" onClick={leave}>
          {stays ? t.dropping.understood : t.dropping.leave}
        </Act>
      </Box>
    </Alert>
  );
}
