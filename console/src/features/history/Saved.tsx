import { Box, Checkbox, FormControlLabel, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useMissing } from '../../shared/data/rights';
import { Download, Panel } from '../../shared/ui/parts';
import { t } from './texts';

/** A stretch of the history as a file that is checked without the service. */
export function Saved() {
  const may = useMissing('audit', '*', '*');
  const [from, setFrom] = useState('');
  const [evidence, setEvidence] = useState(true);
  if (may) return null;
  const at = from && new Date(`${from}T00:00:00`).toISOString();
  return (
    <Panel title={t.saved.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.saved.hint}
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <TextField
          type="date"
          size="small"
          label={t.between.from}
          value={from}
          onChange={(e) => setFrom(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <FormControlLabel
          control={<Checkbox size="small" checked={evidence} onChange={(_, on) => setEvidence(on)} />}
          label={t.saved.evidence}
        />
        {at && (
          <Download href={`/api/v1/history/saved?${new URLSearchParams({ from: at, evidence: String(evidence) })}`}>
            {t.saved.save}
          </Download>
        )}
      </Box>
    </Panel>
  );
}
