import { MenuItem, TextField } from '@mui/material';

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
