import { Box, Dialog, DialogContent, DialogTitle, Typography } from '@mui/material';
import { t } from './texts';

/** What keys do, by page. */
export default function Keys({
  pages,
  onClose,
}: {
  pages: readonly (readonly [path: string, name: string, key: string])[];
  onClose: () => void;
}) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="keys">
      <DialogTitle id="keys">{t.shell.keys}</DialogTitle>
      <DialogContent>
        <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: '80px 1fr', gap: 1, m: 0 }}>
          {pages.map(([, name, key]) => [
            <dt key={key}>g {key}</dt>,
            <dd key={name} style={{ margin: 0 }}>
              {name}
            </dd>,
          ])}
          <dt>j k</dt>
          <dd style={{ margin: 0 }}>{t.shell.nextAndPreviousInA}</dd>
          <dt>/</dt>
          <dd style={{ margin: 0 }}>{t.shell.findAnything}</dd>
          <dt>f</dt>
          <dd style={{ margin: 0 }}>{t.shell.filter}</dd>
        </Box>
        <Typography variant="caption">{t.shell.noKeyApprovesStartsAborts}</Typography>
      </DialogContent>
    </Dialog>
  );
}
