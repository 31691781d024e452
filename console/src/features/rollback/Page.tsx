import { Box, Radio, TextField, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, newKey, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Act, Fingerprint, Go, Loading, PageTitle, Panel, Problem } from '../../shared/ui/parts';

type Way = Schemas['WayOption'];
const names: Record<string, string> = { 'earlier-version': 'Re-apply the earlier version', backup: 'Restore the backup' };

/** The ways back side by side, each with its counted loss; none is preselected when any loses something. */
export default function RollbackPage() {
  const { application = '', stage = '', site = '' } = useParams();
  const where = `${stage}/${site}`;
  const q = useQuery({ queryKey: ['rollback', application, where], queryFn: () => unwrap(client.GET('/api/v1/rollback/ways', { params: { query: { application, site: where } } })), staleTime: 0 });
  if (q.error) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={`the ways back; ${where} is being compared with each`} />;
  const w = q.data;
  return (
    <>
      <PageTitle title={`Go back: ${application} in ${stage}`} production={w.production} note={<>{where} holds {w.present ?? 'nothing'}</>} />
      {w.ways.every((x) => !x.possible) && <Panel title="There is no way back that Plenzo can take">{w.ways.map((x) => <p key={x.way}>{names[x.way]}: {x.why}</p>)}</Panel>}
      <Choose ways={w} />
    </>
  );
}

function Choose({ ways }: { ways: Schemas['Ways'] }) {
  const navigate = useNavigate();
  const usable = ways.ways.filter((w) => w.possible);
  const [way, setWay] = useState(usable.length > 0 && usable.every((w) => w.lost === 0) ? usable[0]!.way : '');
  const [reason, setReason] = useState('');
  const [confirm, setConfirm] = useState('');
  const [key] = useState(newKey);
  const chosen = ways.ways.find((w) => w.way === way);
  const go = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/rollback', { body: { application: ways.application, site: ways.site, way, reason, expect: chosen?.fullFingerprint ?? '', confirm: confirm || undefined }, headers: { 'Idempotency-Key': key } })),
    onSuccess: (s) => navigate(s.run ? `/runs/${s.run}` : `/promotions/${s.promotion}`),
  });
  const why = ways.whyNot || (!chosen ? 'Choose a way.' : !reason ? 'Say why.' : confirm !== ways.application ? `Type ${ways.application} to confirm.` : undefined);
  if (usable.length === 0) return null;
  return (
    <>
      <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mb: 2, display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'repeat(2, minmax(0, 1fr))' }, gap: 2, alignItems: 'stretch', minWidth: 0 }}>
        <Box component="legend" sx={{ fontWeight: 650, mb: 1 }}>Ways back</Box>
        {ways.ways.map((w) => <Card key={w.way} w={w} ways={ways} chosen={way === w.way} choose={() => setWay(w.way)} />)}
      </Box>
      <Panel production={ways.production} title="Confirm">
        <Problem error={go.error} />
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, alignItems: 'flex-start' }}>
          <TextField size="small" label="Why do you go back?" value={reason} onChange={(e) => setReason(e.target.value)} sx={{ width: '100%', maxWidth: 560 }} />
          <TextField size="small" label={`Type ${ways.application} to confirm`} value={confirm} onChange={(e) => setConfirm(e.target.value)} />
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
            <Act kind="outlined" onClick={() => navigate('/standing')}>Keep things as they are</Act>
            <Act fault why={why} busy={go.isPending} onClick={() => go.mutate()}>{chosen ? `Put ${ways.application} back to ${chosen.version}${chosen.way === 'backup' ? ` from the backup of ${chosen.run}` : ''}` : 'Go back'}</Act>
          </Box>
          {chosen && <Typography variant="body2" color="textSecondary">{chosen.covered ? `Covered by the approvals of ${chosen.coveredBy}: it starts at once.` : 'Not covered by earlier approvals: it becomes a plan that waits for approval.'}</Typography>}
        </Box>
      </Panel>
    </>
  );
}

function Card({ w, ways, chosen, choose }: { w: Way; ways: Schemas['Ways']; chosen: boolean; choose: () => void }) {
  return (
    <Box component="label" sx={{ display: 'block', bgcolor: 'background.paper', border: chosen ? '2px solid var(--mui-palette-signal-you)' : '1px solid var(--mui-palette-signal-edge)', borderRadius: 1, p: 2, cursor: w.possible ? 'pointer' : 'default', minWidth: 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Radio name="way" value={w.way} checked={chosen} disabled={!w.possible} onChange={choose} sx={{ p: 0.5 }} />
        <Typography variant="h3" component="h2">{names[w.way] ?? w.way}{w.version ? `, ${w.version}` : ''}</Typography>
      </Box>
      {!w.possible ? <Typography color="textSecondary">Cannot be used: {w.why}</Typography> : (
        <>
          <Typography sx={{ fontSize: 24, lineHeight: '32px', fontWeight: 620, color: w.lost === 0 ? 'text.primary' : 'var(--mui-palette-signal-fault)' }}>{w.lost < 0 ? "Loss can't be known" : w.lost === 0 ? 'Loses nothing' : `Loses ${plural(w.lost, 'row or value', 'rows or values')}`}</Typography>
          <Typography>{w.lossSentence}</Typography>
          <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>{w.counts.changed} changed back, {w.counts.removed} removed, {w.counts.added} put back, {w.counts.kept + w.counts.conflict} written since and kept. Plan <Fingerprint value={w.fingerprint} /></Typography>
          {w.findings.length > 0 && <ul style={{ margin: '8px 0 0', paddingLeft: 18, fontSize: 13 }}>{w.findings.map((f) => <li key={f}>{f}</li>)}</ul>}
          {w.lost > 0 && <SaveLost ways={ways} way={w.way} />}
        </>
      )}
      {w.run && <Typography variant="body2"><Go to={`/runs/${w.run}`}>The run that took it, {w.run}</Go></Typography>}
    </Box>
  );
}

/** The rows that would go, saved to a file of the person's own first. */
function SaveLost({ ways, way }: { ways: Schemas['Ways']; way: string }) {
  const save = useMutation({
    mutationFn: () => unwrap(client.GET('/api/v1/rollback/lost', { params: { query: { application: ways.application, site: ways.site, way } } })),
    onSuccess: (lost) => {
      const link = document.createElement('a');
      link.href = URL.createObjectURL(new Blob([lost.lines.join('\n') + '\n'], { type: 'text/csv' }));
      link.download = `${ways.application}-${ways.site.replace('/', '-')}-lost.csv`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  return (
    <Box sx={{ mt: 1 }}>
      <Problem error={save.error} />
      <Act kind="outlined" busy={save.isPending} onClick={() => save.mutate()}>Save these rows to a file first</Act>
    </Box>
  );
}
