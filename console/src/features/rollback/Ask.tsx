import { Box, TextField } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { whyNot } from '../../shared/data/rights';
import type { Schemas } from '../../shared/data/api';
import { Act } from '../../shared/ui/parts';
import { t } from './texts';

/** What is asked before going back: why, and the application's key typed; what is missing is said. */
export function Ask({
  application,
  may,
  why,
  busy,
  act,
  go,
}: {
  application: string;
  may: Schemas['MayView'];
  /** What is in the way before anything is typed. */
  why?: string;
  busy: boolean;
  act: ReactNode;
  go: (reason: string, confirm: string | undefined) => void;
}) {
  const navigate = useNavigate();
  const [reason, setReason] = useState('');
  const [confirm, setConfirm] = useState('');
  const missing =
    whyNot(may) ||
    (why ?? (!reason ? t.page.sayWhy : confirm !== application ? t.page.typeToConfirm(application) : undefined));
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, alignItems: 'flex-start' }}>
      <TextField
        size="small"
        label={t.page.whyDoYouGoBack}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        sx={{ width: '100%', maxWidth: 560 }}
      />
      <TextField
        size="small"
        label={t.page.confirmLabel(application)}
        value={confirm}
        onChange={(e) => setConfirm(e.target.value)}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        <Act kind="outlined" onClick={() => navigate('/standing')}>
          {t.page.keepThingsAsTheyAre}
        </Act>
        <Act fault why={missing} busy={busy} onClick={() => go(reason, confirm || undefined)}>
          {act}
        </Act>
      </Box>
    </Box>
  );
}
