import { Box, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { Act, Problem } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { t } from './texts';

/** Closes a case that is not to run: nothing at the site changes, and its approvals do not come along. */
export function Withdraw({ p }: { p: Promotion }) {
  const [reason, setReason] = useState('');
  const withdraw = useAct(p.number, () =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/withdraw', {
        params: { path: { number: p.number } },
        body: { reason },
      }),
    ),
  );
  if (['done', 'withdrawn', 'overtaken', 'running'].includes(p.state)) return null;
  return (
    <Box component="details" sx={{ mt: 2 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1.5 }}>
        {t.withdraw.title}
      </Box>
      <Problem error={withdraw.error} />
      <Typography sx={{ mb: 1, maxWidth: '72ch' }}>{t.withdraw.means(p.goal.site)}</Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <TextField
          size="small"
          label={t.withdraw.why}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: '100%', maxWidth: 480 }}
        />
        <Act
          kind="outlined"
          why={whyNot(p.may.withdraw) || (reason ? undefined : t.withdraw.sayWhy)}
          busy={withdraw.isPending}
          onClick={() => withdraw.mutate()}
        >
          {t.withdraw.act(p.number)}
        </Act>
      </Box>
    </Box>
  );
}
