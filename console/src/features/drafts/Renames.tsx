import { Box, Button, Typography } from '@mui/material';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Problem } from '../../shared/ui/parts';
import { useDraftAct } from './api';
import { t } from './texts';

type Rename = Schemas['LikelyRenameView'];

/** Columns of which only a person knows whether they were renamed. */
export function Renames({ id, open, renames }: { id: string; open: boolean; renames: Rename[] }) {
  const answer = useDraftAct(id, ({ component, was, is }: Rename) =>
    unwrap(client.POST('/api/v1/drafts/{id}/two-columns', { params: { path: { id } }, body: { component, was, is } })),
  );
  if (renames.length === 0) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3">{t.renames.title}</Typography>
      <Problem error={answer.error} />
      {renames.map((r) => (
        <Box
          key={r.component + r.was + r.is}
          sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, py: 0.75 }}
        >
          <Box sx={{ flex: '1 1 240px', minWidth: 0, overflowWrap: 'anywhere' }}>
            {r.component}: {t.renames.asked(r.was, r.is)}
            <Typography variant="caption" component="div" color="textSecondary">
              {r.denied ? t.renames.answered : t.renames.cost}
            </Typography>
          </Box>
          {!r.denied && open && (
            <Button size="small" onClick={() => answer.mutate(r)} disabled={answer.isPending}>
              {t.renames.answer}
            </Button>
          )}
        </Box>
      ))}
    </Box>
  );
}
