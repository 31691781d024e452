import { Box, Typography } from '@mui/material';
import { Download, Panel } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { t } from './texts';

/** The whole case as files, for whoever asks later. */
export function RecordPart({ p }: { p: Promotion }) {
  return (
    <Panel title={t.record.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.record.hint}
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        {Object.entries(t.record.forms).map(([form, words]) => (
          <Download key={form} href={`/api/v1/promotions/${p.number}/record/${form}`}>
            {words}
          </Download>
        ))}
        <Download href={`/api/v1/promotions/${p.number}/record`}>{t.record.json}</Download>
        <Download href={`/api/v1/promotions/${p.number}/findings/sarif`}>{t.record.sarif}</Download>
        <Download href={`/api/v1/promotions/${p.number}/comparison/csv`}>{t.record.csv}</Download>
      </Box>
    </Panel>
  );
}
