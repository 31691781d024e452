import { Typography } from '@mui/material';
import { client, unwrap } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { Act, Panel, Problem, Time } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { t } from './texts';

/** Somebody else's yes over the network: what they said last, and asking them now. */
export function OutsidePart({ p }: { p: Promotion }) {
  const ask = useAct(p.number, () =>
    unwrap(client.POST('/api/v1/promotions/{number}/ask-outside', { params: { path: { number: p.number } } })),
  );
  const o = p.outside;
  if (!o) return null;
  const why = p.may['ask-outside'];
  return (
    <Panel title={t.outside.title(o.name)}>
      <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1, overflowWrap: 'anywhere' }}>
        {t.outside.hint(o.address, o.seconds)}
      </Typography>
      <Typography sx={{ mb: 1, overflowWrap: 'anywhere' }}>
        {typeof o.yes !== 'boolean' ? (
          t.outside.notAsked
        ) : (
          <>
            {o.yes ? t.outside.yes : t.outside.no}
            {o.said && <>: {o.said}</>}
            {o.ofThisPlan ? '' : t.outside.anotherPlan}
            {t.outside.askedBy(o.by ?? '')} {o.at && <Time at={o.at} />}
          </>
        )}
      </Typography>
      <Problem error={ask.error} />
      {why && (
        <Act kind="outlined" why={whyNot(why)} busy={ask.isPending} onClick={() => ask.mutate()}>
          {t.outside.ask(o.name)}
        </Act>
      )}
    </Panel>
  );
}
