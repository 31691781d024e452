import { TextField } from '@mui/material';
import { useEffect, useState } from 'react';

/** Finds as one types, a moment after the last key. */
export default function Find({
  label,
  value,
  onChange,
  width = 220,
}: {
  label: string;
  value: string;
  onChange: (find: string) => void;
  width?: number;
}) {
  const [typed, setTyped] = useState(value);
  useEffect(() => {
    if (typed === value) return;
    const later = setTimeout(() => onChange(typed), 300);
    return () => clearTimeout(later);
  });
  return (
    <TextField
      size="small"
      label={label}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      sx={{ width }}
      slotProps={{ htmlInput: { 'data-find': true } }}
    />
  );
}
