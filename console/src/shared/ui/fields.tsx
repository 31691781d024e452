import { Box, Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material';

/** A short text in a form. */
export function Text({
  label,
  value,
  set,
  width = 180,
  type,
  multiline,
}: {
  label: string;
  value: string;
  set: (v: string) => void;
  width?: number;
  type?: string;
  multiline?: boolean;
}) {
  return (
    <TextField
      size="small"
      label={label}
      value={value}
      type={type}
      multiline={multiline}
      autoComplete={type === 'password' ? 'new-password' : 'off'}
      onChange={(e) => set(e.target.value)}
      sx={{ width, maxWidth: '100%' }}
    />
  );
}

/** A day and a time of the reader's. */
export function When({ label, value, set }: { label: string; value: string; set: (v: string) => void }) {
  return (
    <TextField
      size="small"
      type="datetime-local"
      label={label}
      value={value}
      onChange={(e) => set(e.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}

/** One of a few. */
export function Choice({
  label,
  value,
  set,
  of,
  width = 180,
}: {
  label: string;
  value: string;
  set: (v: string) => void;
  of: [string, string][];
  width?: number;
}) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={(e) => set(e.target.value)}
      sx={{ width, maxWidth: '100%' }}
    >
      {of.map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What can be ticked, side by side. */
export function Ticks({ of }: { of: [string, boolean | undefined, (on: boolean) => void][] }) {
  return (
    <Box
      sx={{ width: '100%', display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(min(100%, 280px), 1fr))' }}
    >
      {of.map(([label, on, set]) => (
        <FormControlLabel
          key={label}
          control={<Checkbox checked={on ?? false} onChange={(e) => set(e.target.checked)} />}
          label={label}
        />
      ))}
    </Box>
  );
}
