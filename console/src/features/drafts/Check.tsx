import { Box, Typography } from '@mui/material';
import { client, unwrap } from '../../shared/data/api';
import { Act, Problem, Time } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';
import { t } from './texts';

/** Whether a finding only says what is next: something to choose, or the check itself. */
export const isNext = (rule: string) => rule === 'nothing-picked' || rule === 'not-checked';

/** Reads every pick at the source; until then nothing is known of the draft. */
export function Check({ d }: { d: Draft }) {
  const check = useDraftAct(d.id, () =>
    unwrap(client.POST('/api/v1/drafts/{id}/check', { params: { path: { id: d.id } } })),
  );
  return (
    <Box sx={{ mt: 2 }}>
      <Problem error={check.error} />
      {d.picks.length > 0 && !d.checked.at && (
        <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1 }}>
          {t.check.notYet}
        </Typography>
      )}
      <Act
        kind={d.checked.at ? 'outlined' : 'contained'}
        why={d.picks.length ? undefined : t.check.pickSomethingFirst}
        busy={check.isPending}
        onClick={() => check.mutate()}
      >
        {t.check.everyPick}
      </Act>
      {d.checked.at && (
        <Typography variant="caption" color="textSecondary" component="div" sx={{ mt: 0.5 }}>
          {t.check.checked} <Time at={d.checked.at} />
        </Typography>
      )}
    </Box>
  );
}
