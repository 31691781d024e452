import { Box, Checkbox, FormControlLabel, TextField } from '@mui/material';
import { useState } from 'react';
import { t } from './texts';

/** What was ticked and typed before something is started that takes something away. */
export function useTakesAway(list: string[], name: string) {
  const [known, setKnown] = useState(false);
  const [typed, setTyped] = useState('');
  const why =
    list.length === 0 ? undefined : !known ? t.takesAway.tick : typed !== name ? t.takesAway.typeIt(name) : undefined;
  return { list, name, known, setKnown, typed, setTyped, why };
}

/** Names what goes; it is ticked, and the name of what is started is typed. Nothing, where nothing goes. */
export function TakesAway({ of }: { of: ReturnType<typeof useTakesAway> }) {
  if (of.list.length === 0) return null;
  return (
    <Box
      component="fieldset"
      sx={{ border: '1px solid var(--mui-palette-signal-fault)', p: 1.5, m: 0, minWidth: 0, maxWidth: 560 }}
    >
      <legend>{t.takesAway.title}</legend>
      <ul style={{ margin: '0 0 8px', paddingLeft: 18, overflowWrap: 'anywhere' }}>
        {of.list.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ul>
      <FormControlLabel
        control={<Checkbox size="small" checked={of.known} onChange={(_, v) => of.setKnown(v)} />}
        label={t.takesAway.known}
      />
      <TextField
        size="small"
        label={t.takesAway.type(of.name)}
        value={of.typed}
        autoComplete="off"
        onChange={(e) => of.setTyped(e.target.value)}
        sx={{ display: 'block', mt: 1 }}
      />
    </Box>
  );
}
