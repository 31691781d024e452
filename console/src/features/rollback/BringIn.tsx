import { Box, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Go, Panel, Problem } from '../../shared/ui/parts';
import { t } from './texts';

/** What an earlier way back lost and somebody saved comes again by a plan of its own, where it fits. */
export function BringIn({ application, site }: { application: string; site: string }) {
  const [file, setFile] = useState<File | null>(null);
  const may = useMissing('prepare', site.split('/')[0] ?? '', application);
  const bring = useMutation({
    mutationFn: async (saved: File) =>
      unwrap(client.POST('/api/v1/rollback/bring-in', { body: { application, site, lines: await saved.text() } })),
  });
  return (
    <Panel title={t.bringIn.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.bringIn.hint}
      </Typography>
      <Problem error={bring.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <label>
          {t.bringIn.file}{' '}
          <input type="file" accept=".csv,text/csv" onChange={(e) => setFile(e.target.files?.[0] ?? null)} />
        </label>
        <Act
          kind="outlined"
          why={may ?? (file ? undefined : t.bringIn.choose)}
          busy={bring.isPending}
          onClick={() => file && bring.mutate(file)}
        >
          {t.bringIn.act}
        </Act>
      </Box>
      {bring.data && (
        <Box sx={{ mt: 1 }} role="status">
          <Go to={`/promotions/${bring.data.promotion}`}>{t.bringIn.opened(bring.data.promotion)}</Go>
          {bring.data.notTaken.length > 0 && (
            <ul style={{ margin: 0, paddingLeft: 18 }}>
              {bring.data.notTaken.map((n) => (
                <li key={n} style={{ overflowWrap: 'anywhere' }}>
                  {n}
                </li>
              ))}
            </ul>
          )}
        </Box>
      )}
    </Panel>
  );
}
