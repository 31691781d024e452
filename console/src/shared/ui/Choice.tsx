import { MenuItem, TextField } from '@mui/material';

/** One of a few, by value and as it is shown. */
export function Choice(with_: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  of: [value: string, shown: string][];
  off?: boolean;
}) {
  return (
    <TextField
      select
      size="small"
      label={with_.label}
      value={with_.value}
      onChange={(e) => with_.onChange(e.target.value)}
      disabled={with_.off}
      sx={{ minWidth: 170 }}
    >
      {with_.of.map(([value, shown]) => (
        <MenuItem key={value} value={value}>
          {shown}
        </MenuItem>
      ))}
    </TextField>
  );
}
