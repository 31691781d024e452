import { Box, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { Act, Problem } from '../../../shared/ui/parts';

/** A form that is folded until somebody needs it; what is missing is said beside its button. */
export function Form({
  title,
  hint,
  error,
  busy,
  why,
  save,
  onSave,
  children,
}: {
  title: string;
  hint?: string;
  error: unknown;
  busy: boolean;
  why?: string;
  save: string;
  onSave: () => void;
  children: ReactNode;
}) {
  return (
    <Box component="details" sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1, mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>
        {title}
      </Box>
      <Box
        component="form"
        aria-label={title}
        onSubmit={(e) => {
          e.preventDefault();
          if (!why) onSave();
        }}
        sx={{ pt: 1.5 }}
      >
        {hint && (
          <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
            {hint}
          </Typography>
        )}
        <Problem error={error} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          {children}
          <Act kind="outlined" why={why} busy={busy} onClick={onSave}>
            {save}
          </Act>
        </Box>
      </Box>
    </Box>
  );
}
