import { Box, Checkbox, FormControlLabel, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { size } from '../../shared/time';
import { Text } from '../../shared/ui/fields';
import { Act, Empty, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { t } from './texts';

const KEY = ['retention'];

function useAgain() {
  const queries = useQueryClient();
  return () => queries.invalidateQueries({ queryKey: KEY });
}

/** How long Plenzo's own files stay, what would go, and what stays by a note. */
export default function RetentionPage() {
  const rules = useQuery({ queryKey: [...KEY, 'rules'], queryFn: () => unwrap(client.GET('/api/v1/retention')) });
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <SetupParts />
      <Typography variant="body2" color="textSecondary" sx={{ mb: 2, maxWidth: '72ch' }}>
        {t.hint}
      </Typography>
      <Problem error={rules.error} />
      {rules.data ? (
        <Rules key={JSON.stringify(rules.data)} set={rules.data} />
      ) : (
        !rules.error && <Loading what={t.rules} />
      )}
      <Preview />
      <Notes />
    </>
  );
}

const asDays = (text: string) => (text.trim() === '' ? undefined : Number(text));

function Rules({ set }: { set: Schemas['RetentionView'] }) {
  const again = useAgain();
  const may = useMissing('administer', '*', '*');
  const [days, setDays] = useState<Record<string, string>>(
    Object.fromEntries(Object.keys(t.sorts).map((s) => [s, set.days[s] == null ? '' : String(set.days[s])])),
  );
  const [daily, setDaily] = useState(set.daily);
  const said = Object.entries(days).flatMap(([s, text]): [string, number][] => {
    const n = asDays(text);
    return n === undefined ? [] : [[s, n]];
  });
  const wrong = said.some(([, n]) => !Number.isInteger(n) || n < 1 || n > 36_500);
  const same = JSON.stringify(Object.fromEntries(said)) === JSON.stringify(ordered(set.days)) && daily === set.daily;
  const save = useMutation({
    mutationFn: () => unwrap(client.PUT('/api/v1/retention', { body: { days: Object.fromEntries(said), daily } })),
    onSuccess: again,
  });
  return (
    <Panel title={t.rules}>
      <Problem error={save.error} />
      <Typography sx={{ mb: 1.5 }}>{t.saved(set.words)}</Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1 }}>
        {Object.entries(t.sorts).map(([s, name]) => (
          <Text
            key={s}
            label={t.days(name)}
            width={250}
            value={days[s] ?? ''}
            set={(v) => setDays({ ...days, [s]: v })}
          />
        ))}
      </Box>
      <Typography variant="body2" color="textSecondary">
        {t.forEver}
      </Typography>
      <FormControlLabel
        control={<Checkbox size="small" checked={daily} onChange={(_, on) => setDaily(on)} />}
        label={t.daily}
        sx={{ display: 'flex', my: 1 }}
      />
      <Act
        kind="outlined"
        why={may ?? (wrong ? t.wrong : same ? t.same : undefined)}
        busy={save.isPending}
        onClick={() => save.mutate()}
      >
        {t.save}
      </Act>
    </Panel>
  );
}

/** In the order of the form, so that the same rules read the same. */
function ordered(days: Record<string, number>): Record<string, number> {
  return Object.fromEntries(Object.keys(t.sorts).flatMap((s) => (days[s] == null ? [] : [[s, days[s]]])));
}

function Preview() {
  const again = useAgain();
  const may = useMissing('administer', '*', '*');
  const [typed, setTyped] = useState('');
  const q = useQuery({
    queryKey: [...KEY, 'preview'],
    queryFn: () => unwrap(client.GET('/api/v1/retention/preview')),
    enabled: may === undefined,
  });
  const clear = useMutation({
    mutationFn: (expect: string) => unwrap(client.POST('/api/v1/retention/clear', { body: { expect } })),
    onSuccess: () => {
      setTyped('');
      return again();
    },
  });
  const p = q.data;
  const goes = p?.old.some((l) => l.goes);
  return (
    <Panel title={t.preview}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {t.previewHint}
      </Typography>
      <Problem error={q.error ?? clear.error} />
      {clear.data && (
        <Typography role="status" sx={{ mb: 1 }}>
          {t.cleared(clear.data.counted, clear.data.bytes)}
        </Typography>
      )}
      {may ? (
        <Empty>{may}</Empty>
      ) : !p ? (
        !q.error && <Loading what={t.preview} />
      ) : p.old.length === 0 ? (
        <Empty>{t.nothingOld(p.young)}</Empty>
      ) : (
        <>
          <Typography sx={{ fontWeight: 650, mb: 1 }}>{t.goes(p.counted, p.bytes)}</Typography>
          <Rows label={t.preview} heads={t.heads}>
            {p.old.map((l) => (
              <tr key={l.id}>
                <td>{l.id}</td>
                <td style={{ overflowWrap: 'anywhere' }}>{l.of}</td>
                <td>
                  <Time at={l.at} />
                </td>
                <td>{size(l.bytes)}</td>
                <td style={{ fontWeight: l.goes ? 650 : undefined }}>{l.goes ? t.goesWord : t.staysWord}</td>
                <td style={{ overflowWrap: 'anywhere' }}>{l.why}</td>
              </tr>
            ))}
          </Rows>
          <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
            {t.young(p.young)}
          </Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
            <Text label={t.type} value={typed} set={setTyped} width={200} />
            <Act
              fault
              why={!goes ? t.nothingGoes : typed === 'clear' ? undefined : t.typeFirst}
              busy={clear.isPending}
              onClick={() => clear.mutate(p.digest)}
            >
              {t.clear(p.counted)}
            </Act>
          </Box>
        </>
      )}
    </Panel>
  );
}

function Notes() {
  const again = useAgain();
  const may = useMissing('administer', '*', '*');
  const [subject, setSubject] = useState('');
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const q = useQuery({
    queryKey: [...KEY, 'notes'],
    queryFn: () => unwrap(client.GET('/api/v1/retention/notes')),
    enabled: may === undefined,
  });
  const keep = useMutation({
    mutationFn: () =>
      unwrap(client.PUT('/api/v1/retention/notes', { body: { subject, reason, until: until || undefined } })),
    onSuccess: () => {
      setSubject('');
      setReason('');
      return again();
    },
  });
  const letGo = useMutation({
    mutationFn: (what: string) =>
      unwrap(client.DELETE('/api/v1/retention/notes', { params: { query: { subject: what } } })),
    onSuccess: again,
  });
  if (may) return null;
  return (
    <Panel title={t.notes}>
      <Problem error={q.error ?? keep.error ?? letGo.error} />
      {!q.data ? (
        !q.error && <Loading what={t.notes} />
      ) : q.data.length === 0 ? (
        <Empty>{t.noNotes}</Empty>
      ) : (
        <Rows label={t.notes} heads={t.noteHeads}>
          {q.data.map((n) => (
            <tr key={n.subject}>
              <td style={{ fontWeight: 600 }}>{n.subject}</td>
              <td>{n.until ?? t.ever}</td>
              <td>{n.by}</td>
              <td>
                <Time at={n.at} />
              </td>
              <td style={{ overflowWrap: 'anywhere' }}>{n.reason}</td>
              <td>
                <Act kind="outlined" busy={letGo.isPending} onClick={() => letGo.mutate(n.subject)}>
                  {t.letGo(n.subject)}
                </Act>
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Typography component="h3" variant="body1" sx={{ fontWeight: 650, mt: 2, mb: 1 }}>
        {t.keepTitle}
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'flex-start' }}>
        <TextField
          size="small"
          label={t.subject}
          helperText={t.subjectHint}
          value={subject}
          onChange={(e) => setSubject(e.target.value)}
          sx={{ width: 360, maxWidth: '100%' }}
        />
        <Text label={t.reason} value={reason} set={setReason} width={260} />
        <TextField
          type="date"
          size="small"
          label={t.until}
          value={until}
          onChange={(e) => setUntil(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Act
          kind="outlined"
          why={subject && reason ? undefined : t.keepFirst}
          busy={keep.isPending}
          onClick={() => keep.mutate()}
        >
          {t.keep}
        </Act>
      </Box>
    </Panel>
  );
}
