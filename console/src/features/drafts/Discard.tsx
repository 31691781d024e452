import { Box, Typography } from '@mui/material';
import { useState } from 'react';
import { asSeen, client, unwrap } from '../../shared/data/api';
import { Act, Problem } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';
import { t } from './texts';

/** What goes and what stays is said before a draft is thrown away. */
export function Discard({ d }: { d: Draft }) {
  const [sure, setSure] = useState(false);
  const discard = useDraftAct(d.id, () =>
    unwrap(client.DELETE('/api/v1/drafts/{id}', { params: { path: { id: d.id } }, ...asSeen(d.revision) })),
  );
  return (
    <Box sx={{ mt: 2 }}>
      <Problem error={discard.error} />
      {sure && <Typography sx={{ mb: 1 }}>{t.discard.sure(d.picks.length)}</Typography>}
      <Act
        kind="outlined"
        fault={sure}
        busy={discard.isPending}
        onClick={() => (sure ? discard.mutate() : setSure(true))}
      >
        {sure ? t.discard.really : t.discard.discard}
      </Act>
    </Box>
  );
}
