import { Box, Button, Checkbox, FormControlLabel, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Choice } from '../../shared/ui/fields';
import { Act, Problem } from '../../shared/ui/parts';
import { useDraftAct } from './api';
import { t } from './texts';

type Conversion = Schemas['ConversionView'];
type Asked = Schemas['ConvertColumn'];

/** What values of columns are worked out from: what is stated, and stating it. */
export function Conversions({
  id,
  open,
  tables,
  stated,
}: {
  id: string;
  open: boolean;
  tables: string[];
  stated: Conversion[];
}) {
  const [form, setForm] = useState(false);
  const act = useDraftAct(id, (body: Asked) =>
    unwrap(client.POST('/api/v1/drafts/{id}/convert', { params: { path: { id } }, body })),
  );
  if (stated.length === 0 && (!open || tables.length === 0)) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3">{t.conversions.title}</Typography>
      <Problem error={act.error} />
      {stated.length === 0 && <Typography color="textSecondary">{t.conversions.none}</Typography>}
      {stated.map((c) => (
        <Box
          key={`${c.component}#${c.column}${c.back}`}
          sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, py: 0.75 }}
        >
          <Box sx={{ flex: '1 1 240px', minWidth: 0, overflowWrap: 'anywhere' }}>
            {t.conversions.of(c.column, c.component, c.back)}{' '}
            <Box component="code" sx={{ fontFamily: 'ui-monospace, monospace', fontSize: 12 }}>
              {c.expression}
            </Box>
          </Box>
          {open && (
            <Button
              size="small"
              disabled={act.isPending}
              onClick={() => act.mutate({ component: c.component, column: c.column, back: c.back })}
            >
              {t.conversions.takeBack}
            </Button>
          )}
        </Box>
      ))}
      {open && !form && tables.length > 0 && (
        <Button size="small" onClick={() => setForm(true)}>
          {t.conversions.begin}
        </Button>
      )}
      {open && form && (
        <State
          tables={tables}
          busy={act.isPending}
          state={(asked) => act.mutate(asked, { onSuccess: () => setForm(false) })}
        />
      )}
    </Box>
  );
}

function State({ tables, busy, state }: { tables: string[]; busy: boolean; state: (asked: Asked) => void }) {
  const [component, setComponent] = useState(tables[0] ?? '');
  const [column, setColumn] = useState('');
  const [expression, setExpression] = useState('');
  const [back, setBack] = useState(false);
  const missing = !column.trim() || !expression.trim();
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'flex-start', my: 1 }}>
      <Choice
        label={t.conversions.table}
        value={component}
        set={setComponent}
        of={tables.map((x) => [x, x])}
        width={220}
      />
      <TextField
        size="small"
        label={t.conversions.column}
        value={column}
        onChange={(e) => setColumn(e.target.value)}
        sx={{ width: 160 }}
      />
      <TextField
        size="small"
        label={t.conversions.expression}
        helperText={back ? t.conversions.backHint : t.conversions.hint}
        value={expression}
        onChange={(e) => setExpression(e.target.value)}
        sx={{ flex: '1 1 280px' }}
      />
      <FormControlLabel
        control={<Checkbox checked={back} onChange={(e) => setBack(e.target.checked)} />}
        label={t.conversions.back}
      />
      <Act
        kind="outlined"
        why={missing ? t.conversions.missing : undefined}
        busy={busy}
        onClick={() => state({ component, column: column.trim(), expression: expression.trim(), back })}
      >
        {t.conversions.state}
      </Act>
    </Box>
  );
}
