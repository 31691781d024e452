import { Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { Act, Panel, Problem, State } from '../../shared/ui/parts';
import { OneRehearsal } from '../../shared/ui/Rehearsals';
import { t as shared } from '../../shared/ui/texts';
import { rehearsals, type Promotion } from './api';
import { t } from './texts';

/** The plan on copies: begun here, followed, and what came of it. */
export function RehearsalPart({ p }: { p: Promotion }) {
  const queries = useQueryClient();
  const all = useQuery(rehearsals(p.number));
  const items = all.data?.items ?? [];
  const going = items.find((r) => !r.ended);
  const again = () => void queries.invalidateQueries({ queryKey: ['promotions', p.number] });
  const start = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/promotions/{number}/rehearse', { params: { path: { number: p.number } } })),
    onSettled: again,
  });
  return (
    <Panel title={t.rehearsal.title}>
      <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1 }}>
        {t.rehearsal.cost}
      </Typography>
      <Problem error={all.error ?? start.error} />
      {items.length === 0 && !all.isPending && <Typography sx={{ mb: 1 }}>{t.rehearsal.none}</Typography>}
      {items.map((r, n) => (
        <OneRehearsal key={r.number} r={r} newest={n === 0} done={again} />
      ))}
      {p.may.rehearse && (
        <Act
          kind="outlined"
          why={whyNot(p.may.rehearse) || (going ? t.rehearsal.goesOn(going.number) : undefined)}
          busy={start.isPending}
          onClick={() => start.mutate()}
        >
          {t.rehearsal.start(p.number, p.goal.site)}
        </Act>
      )}
    </Panel>
  );
}

/** What an approver reads of it beside the ways back. */
export function Rehearsed({ of }: { of: Promotion['rehearsed'] }) {
  if (!of) return <>{t.rehearsal.none}</>;
  return (
    <>
      <State word={shared.rehearsal.results[of.result] ?? of.result} /> {of.number}
      {of.ofThisPlan ? '' : shared.rehearsal.anotherPlan}
      {of.beside > 0 && t.rehearsal.butFor(of.beside)}.{' '}
    </>
  );
}
