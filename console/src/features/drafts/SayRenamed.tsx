import { Box, Button, TextField } from '@mui/material';
import { useState } from 'react';
import { type Schemas } from '../../shared/data/api';
import { Choice } from '../../shared/ui/fields';
import { Act } from '../../shared/ui/parts';
import { t } from './texts';

type Asked = Schemas['RenamedColumn'];

interface Props {
  tables: string[];
  busy: boolean;
  /** Closes the form where it was taken. */
  say: (asked: Asked, taken: () => void) => void;
}

/** A person's word on a rename that nobody asks about: another column or table took the name. */
export function SayRenamed({ tables, busy, say }: Props) {
  const [form, setForm] = useState(false);
  const [component, setComponent] = useState('');
  const [column, setColumn] = useState('');
  const [before, setBefore] = useState('');
  if (!form) {
    return (
      <Button size="small" onClick={() => setForm(true)}>
        {t.renames.begin}
      </Button>
    );
  }
  const table = component || (tables[0] ?? '');
  const asked = column.trim()
    ? { component: table, was: before.trim(), is: column.trim() }
    : { component: table, was: `table/${before.trim()}`, is: table };
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'flex-start', my: 1 }}>
      <Choice label={t.renames.table} value={table} set={setComponent} of={tables.map((x) => [x, x])} width={220} />
      <TextField
        size="small"
        label={t.renames.column}
        helperText={t.renames.columnHint}
        value={column}
        onChange={(e) => setColumn(e.target.value)}
        sx={{ width: 200 }}
      />
      <TextField
        size="small"
        label={t.renames.before}
        helperText={column.trim() ? t.renames.beforeHint : t.renames.beforeHintTable}
        value={before}
        onChange={(e) => setBefore(e.target.value)}
        sx={{ flex: '1 1 200px' }}
      />
      <Act
        kind="outlined"
        why={before.trim() ? undefined : t.renames.missing}
        busy={busy}
        onClick={() => say(asked, () => setForm(false))}
      >
        {column.trim() ? t.renames.sayOne : t.renames.sayOneTable}
      </Act>
    </Box>
  );
}
