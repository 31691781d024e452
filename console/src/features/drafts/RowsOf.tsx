import { Box, TextField } from '@mui/material';
import { useState } from 'react';
import type { Schemas } from '../../shared/data/api';
import { Choice } from '../../shared/ui/fields';
import { Act } from '../../shared/ui/parts';
import { t } from './texts';

/**
 * Which rows of a table are carried: by which columns they are told apart, a condition on them, and what is done to
 * others that a site has.
 */
export function RowsOf({
  component,
  busy,
  take,
}: {
  component: string;
  busy: boolean;
  take: (pick: Schemas['PickView']) => void;
}) {
  const [key, setKey] = useState('');
  const [where, setWhere] = useState('');
  const [policy, setPolicy] = useState('');
  const columns = key.split(/[\s,]+/).filter(Boolean);
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'flex-start', my: 1 }}>
      <TextField
        size="small"
        label={t.rowsOf.key}
        helperText={t.rowsOf.keyHint}
        value={key}
        onChange={(e) => setKey(e.target.value)}
      />
      <TextField
        size="small"
        label={t.rowsOf.where}
        helperText={t.rowsOf.whereHint}
        value={where}
        onChange={(e) => setWhere(e.target.value)}
        sx={{ flex: '1 1 240px' }}
      />
      <Choice label={t.rowsOf.policy} value={policy} set={setPolicy} of={t.rowsOf.policies} width={260} />
      <Act
        kind="outlined"
        why={columns.length === 0 && !policy ? t.rowsOf.nameTheKey : undefined}
        busy={busy}
        onClick={() =>
          take({
            component,
            key: columns.length === 0 ? undefined : columns,
            where: where.trim() || undefined,
            generatedKeyConfirmed: true,
            policy: policy || undefined,
          })
        }
      >
        {t.rowsOf.take}
      </Act>
    </Box>
  );
}
