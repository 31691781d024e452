import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Facts, Go, Loading, PageTitle, Panel, Problem, Rows, State } from '../../shared/ui/parts';
import { versions } from './api';
import { t } from './texts';

/** A sealed version: what it holds, where it came from, where it is. */
export default function VersionPage() {
  const { application = '', number = '' } = useParams();
  const all = useQuery(versions(application));
  const navigate = useNavigate();
  if (all.error) return <Problem error={all.error} />;
  if (!all.data) return <Loading what={`${application} ${number}`} />;
  const v = all.data.find((x) => x.number === number);
  if (!v) return <Problem error={`There is no version ${application} ${number} that you may see.`} />;
  return (
    <>
      <PageTitle title={t.version(application, number)} note={<>{t.sealed(v.author)} · <Go to={`/applications/${application}`}>{application}</Go></>}>
        {v.withdrawn && <State word="withdrawn" strong />}
      </PageTitle>
      <Panel>
        <Facts list={[
          [t.facts.title, v.title], [t.facts.notes, v.notes], [t.facts.parent, v.parent ?? t.facts.adopted], [t.facts.source, v.source],
          [t.facts.digest, <code key="d" style={{ overflowWrap: 'anywhere' }}>{v.digest}</code>],
          [t.facts.at, v.presentAt.length === 0 ? t.facts.nowhere : v.presentAt.map((p) => `${p.site}${p.verdict ? ` (judged ${p.verdict})` : ''}`).join(', ')],
          [t.facts.removals, v.removals.join(', ')], [t.facts.needs, v.needs.join(', ')], [t.facts.order, v.order.join('; ')], [t.facts.tasks, v.tasks.length > 0 && v.tasks.map((x, n) => <span key={x}>{n > 0 && ', '}{x.startsWith('https://') ? <a href={x} rel="noreferrer" target="_blank">{x}</a> : x}</span>)],
        ]} />
        <Box sx={{ mt: 2, display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
          <TextField select size="small" label={t.other} value="" sx={{ minWidth: 180 }} onChange={(e) => navigate(`/versions/${application}/${e.target.value}/compare/${number}`)}>
            {all.data.filter((x) => x.number !== number).map((x) => <MenuItem key={x.number} value={x.number}>{x.number}</MenuItem>)}
          </TextField>
          <Draft v={v} />
          <Build v={v} />
        </Box>
      </Panel>
      <Panel title={t.holds(v.entries.length)}>
        <Rows label={t.holds(v.entries.length)} heads={t.entryHeads}>
          {v.entries.map((e) => <tr key={e.key}><td style={{ overflowWrap: 'anywhere' }}>{e.key}</td><td>{e.key.startsWith('records/') ? e.rows.toLocaleString('en-GB') : ''}</td><td><code>{e.digest.slice(0, 12)}</code></td><td>{e.origin}</td></tr>)}
        </Rows>
      </Panel>
      {!v.withdrawn && <Withdraw v={v} />}
    </>
  );
}

function Draft({ v }: { v: Schemas['VersionView'] }) {
  const navigate = useNavigate();
  const may = useMissing('author', '*', v.application);
  const start = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/drafts', { body: { application: v.application, from: v.number } })),
    onSuccess: (d) => navigate(`/drafts/${d.id}`),
  });
  return (
    <>
      <Act kind="outlined" why={may} busy={start.isPending} onClick={() => start.mutate()}>{t.draftFrom(v.number)}</Act>
      <Problem error={start.error} />
    </>
  );
}

/** The version as one signed file. */
function Build({ v }: { v: Schemas['VersionView'] }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const may = useMissing('hand-out', '*', v.application);
  const build = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/packages', { body: { application: v.application, number: v.number } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['packages'] });
      navigate('/packages');
    },
  });
  return (
    <>
      <Act kind="outlined" why={may} busy={build.isPending} onClick={() => build.mutate()}>{t.build}</Act>
      <Problem error={build.error} />
    </>
  );
}

function Withdraw({ v }: { v: Schemas['VersionView'] }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const may = useMissing('author', '*', v.application);
  const act = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/versions/{application}/{number}/withdraw', { params: { path: { application: v.application, number: v.number } }, body: { reason } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['versions'] }),
  });
  return (
    <Panel title={t.withdraw(v.number)}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>{t.withdrawHint}</Typography>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        <TextField size="small" label={t.withdrawReason} value={reason} onChange={(e) => setReason(e.target.value)} sx={{ minWidth: 240 }} />
        <Act kind="outlined" why={may ?? (reason ? undefined : t.sayWhy)} busy={act.isPending} onClick={() => act.mutate()}>{t.withdraw(v.number)}</Act>
      </Box>
    </Panel>
  );
}
