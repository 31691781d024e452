import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { ByHandFields, ByHandStep } from '../../shared/ui/ByHand';
import { Act, Panel, Problem } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { t } from './texts';

/** What people do outside Plenzo around the run, and what is asked for in this case alone. */
export function ByHandPart({ p }: { p: Promotion }) {
  const asked = (p.plan?.steps ?? []).flatMap((s) => (s.manual ? [s.manual] : []));
  const [more, setMore] = useState(false);
  if (asked.length === 0 && !p.may.decide?.allowed) return null;
  return (
    <Panel title={t.byHand.title}>
      {asked.length === 0 && <Typography color="textSecondary">{t.byHand.none}</Typography>}
      <ol style={{ margin: 0, paddingLeft: 20 }}>
        {asked.map((a, n) => (
          <li key={n} style={{ marginBottom: 8 }}>
            <ByHandStep step={a.step} when={a.whenWords} origin={a.origin} />
          </li>
        ))}
      </ol>
      {asked.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          {t.byHand.waits}
        </Typography>
      )}
      {p.may.decide?.allowed && !more && (
        <Button size="small" sx={{ mt: 1 }} onClick={() => setMore(true)}>
          {t.byHand.change}
        </Button>
      )}
      {more && <Own p={p} done={() => setMore(false)} />}
    </Panel>
  );
}

function Own({ p, done }: { p: Promotion; done: () => void }) {
  const [steps, set] = useState<Schemas['ManualView'][]>(p.choices.manual);
  const number = p.number;
  const save = useAct(number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/manual', { params: { path: { number } }, body: { steps } })).then(
      (next) => {
        done();
        return next;
      },
    ),
  );
  const why = steps.some((s) => !s.text.trim()) ? t.byHand.say : whyNot(p.may.decide);
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {t.byHand.hint(p.number)}
      </Typography>
      <ByHandFields of={steps} set={set} />
      <Problem error={save.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1.5 }}>
        <Act kind="outlined" why={why} busy={save.isPending} onClick={() => save.mutate()}>
          {t.byHand.save(p.number)}
        </Act>
        <Button size="small" onClick={done}>
          {t.byHand.cancel}
        </Button>
      </Box>
    </Box>
  );
}
