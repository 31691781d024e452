import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { stages } from '../../shared/data/lists';
import { useMissing } from '../../shared/data/rights';
import { Choice } from '../../shared/ui/fields';
import { Act, Panel, Problem } from '../../shared/ui/parts';
import { OneRehearsal } from '../../shared/ui/Rehearsals';
import { trials, type Draft } from './api';
import { t } from './texts';

/** The draft on copies of a site, before it is sealed. */
export function Trial({ d }: { d: Draft }) {
  const queries = useQueryClient();
  const all = useQuery(trials(d.id));
  const known = useQuery(stages());
  const sites = (known.data ?? [])
    .filter((s) => s.role !== 'development')
    .flatMap((s) => s.sites.map((site) => `${s.key}/${site.key}`));
  const [chosen, setChosen] = useState('');
  const site = chosen || sites[0] || '';
  const may = useMissing('prepare', site.split('/')[0] ?? '', d.application);
  const items = all.data?.items ?? [];
  const going = items.find((r) => !r.ended);
  const again = () => void queries.invalidateQueries({ queryKey: ['drafts', d.id, 'trials'] });
  const start = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/drafts/{id}/try', { params: { path: { id: d.id } }, body: { site } })),
    onSettled: again,
  });
  return (
    <Panel title={t.trial.title}>
      <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1 }}>
        {t.trial.cost}
      </Typography>
      <Problem error={all.error ?? start.error} />
      {items.map((r, n) => (
        <OneRehearsal key={r.number} r={r} newest={n === 0} done={again} />
      ))}
      {d.state === 'open' && sites.length > 0 && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 2 }}>
          <Choice label={t.trial.where} value={site} of={sites.map((s) => [s, s])} width={260} set={setChosen} />
          <Act
            kind="outlined"
            why={may ?? (going ? t.trial.goesOn(going.number) : undefined)}
            busy={start.isPending}
            onClick={() => start.mutate()}
          >
            {t.trial.start(d.id, site)}
          </Act>
        </Box>
      )}
    </Panel>
  );
}
