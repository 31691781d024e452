import { Box, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { size } from '../../shared/time';
import { Text } from '../../shared/ui/fields';
import { Act, Download, Empty, Loading, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { t } from './texts';

/** What the editing stage held, copied on a schedule. */
export function Copies({ application }: { application: string }) {
  const q = useQuery({
    queryKey: ['copies', application],
    queryFn: () => unwrap(client.GET('/api/v1/applications/{key}/copies', { params: { path: { key: application } } })),
  });
  return (
    <Panel title={t.copies.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.copies.hint}
      </Typography>
      <Problem error={q.error} />
      {!q.data ? (
        !q.error && <Loading what={t.copies.loading} />
      ) : (
        <Taken key={q.data.every} application={application} of={q.data} />
      )}
    </Panel>
  );
}

function Taken({ application, of }: { application: string; of: Schemas['SourceCopiesView'] }) {
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: ['copies', application] });
  const [every, setEvery] = useState(String(of.every));
  const days = Number(every);
  const mayPlan = useMissing('administer', '*', application);
  const mayTake = useMissing('hand-out', '?', application);
  const path = { params: { path: { key: application } } };
  const plan = useMutation({
    mutationFn: () => unwrap(client.PUT('/api/v1/applications/{key}/copies', { ...path, body: { every: days } })),
    onSuccess: again,
  });
  const take = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/applications/{key}/copies', path)),
    onSuccess: again,
  });
  const wrong = every.trim() === '' || !Number.isInteger(days) || days < 0 || days > 90;
  return (
    <>
      <Problem error={plan.error ?? take.error} />
      {(of.warning || of.trouble) && <Typography sx={{ mb: 1 }}>{of.warning || of.trouble}</Typography>}
      {of.copies.length === 0 ? (
        <Empty>{t.copies.none}</Empty>
      ) : (
        <Rows label={t.copies.title} heads={t.copies.heads}>
          {of.copies.map((c) => (
            <tr key={c.id}>
              <td style={{ fontWeight: 600 }}>{c.id}</td>
              <td>
                <Time at={c.at} />
              </td>
              <td>{c.site}</td>
              <td>{c.by}</td>
              <td>{size(c.bytes)}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{c.leftOut.join(', ')}</td>
              <td>
                <Download href={`/api/v1/applications/${application}/copies/${c.id}/file`}>
                  {t.copies.file(c.id)}
                </Download>
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 1.5 }}>
        <Text label={t.copies.every} value={every} set={setEvery} width={320} />
        <Act
          kind="outlined"
          why={mayPlan ?? (wrong ? t.copies.wrong : days === of.every ? t.copies.same : undefined)}
          busy={plan.isPending}
          onClick={() => plan.mutate()}
        >
          {t.copies.save}
        </Act>
        <Act kind="outlined" why={mayTake} busy={take.isPending} onClick={() => take.mutate()}>
          {t.copies.take}
        </Act>
      </Box>
    </>
  );
}
