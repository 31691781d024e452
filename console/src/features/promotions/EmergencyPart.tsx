import { Alert, Box, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { Act, Panel, Problem, Time } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { t } from './texts';

/** That it cannot wait: who says so, what that passes, and what is owed for it. */
export function EmergencyPart({ p }: { p: Promotion }) {
  const u = p.agreement.urgency;
  const offered = p.may.emergency?.allowed === true;
  if (!u && !offered) return null;
  return (
    <Panel title={t.emergency.title}>
      {u?.said.map((s) => (
        <Typography key={s.by}>
          <b>{s.by}</b> {t.emergency.said} <Time at={s.at} /> {t.emergency.that}: {s.reason}
        </Typography>
      ))}
      {u && u.said.length < u.people && <Typography>{t.emergency.more(u.people)}</Typography>}
      {u && u.passes.length > 0 && <Typography>{t.emergency.passes(u.passes.join('; '))}</Typography>}
      {u?.until &&
        (u.owed ? (
          <Alert severity="warning" sx={{ mt: 1 }}>
            {t.emergency.owes} <Time at={u.until} />
          </Alert>
        ) : (
          <Typography>{t.emergency.owesNothing}</Typography>
        ))}
      {offered && <Declare p={p} />}
    </Panel>
  );
}

function Declare({ p }: { p: Promotion }) {
  const [reason, setReason] = useState('');
  const number = p.number;
  const declare = useAct(number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/emergency', { params: { path: { number } }, body: { reason } })),
  );
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1.5 }}>
        {t.emergency.cannotWait}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        {t.emergency.cost}
      </Typography>
      <Problem error={declare.error} />
      <TextField
        label={t.emergency.why}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        multiline
        fullWidth
        size="small"
        sx={{ mb: 1.5 }}
      />
      <Act
        kind="outlined"
        why={whyNot(p.may.emergency) || (reason.trim() ? undefined : t.emergency.write)}
        busy={declare.isPending}
        onClick={() => declare.mutate()}
      >
        {t.emergency.declare(p.number)}
      </Act>
    </Box>
  );
}
