import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Act, Empty, Loading, Panel, Problem, Rows, Sign } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { rows } from './api';
import { useAct } from './acting';

const classes = ['conflict', 'removed', 'changed', 'added'] as const;
const quiet = ['same', 'kept'] as const;
const name = (d: string) => d.charAt(0).toUpperCase() + d.slice(1);

/** The four numbers are the filters; same and kept stand smaller beside. */
export function ComparisonPart({ p }: { p: Promotion }) {
  const [params, setParams] = useSearchParams();
  const only = params.get('only');
  const at = Number(params.get('component') ?? p.components.findIndex((c) => !['same', 'kept'].includes(c.difference)));
  const differing = p.components.filter((c) => (only ? c.counts[only as 'added'] > 0 : c.difference !== 'same'));
  const chosen = p.components[at];
  const set = (next: Record<string, string>) => setParams({ part: 'comparison', ...(only ? { only } : {}), ...next });
  const total = classes.reduce((n, d) => n + p.counts[d], 0);
  return (
    <>
      <ToggleButtonGroup exclusive value={only} aria-label="Only these differences" onChange={(_, v: string | null) => setParams(v ? { part: 'comparison', only: v } : { part: 'comparison' })} sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr 1fr', sm: 'repeat(4, 1fr)' }, gap: 1, mb: 1, '& button': { justifyContent: 'flex-start', border: '1px solid var(--mui-palette-divider) !important', gap: 1, textTransform: 'none', color: 'text.primary', bgcolor: 'background.paper' } }}>
        {classes.map((d) => (
          <ToggleButton key={d} value={d}>
            <Sign of={d} /><Box component="span" sx={{ fontSize: 24, lineHeight: '32px', fontWeight: 620 }}>{p.counts[d].toLocaleString('en-GB')}</Box> {name(d)}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>{quiet.map((d) => `${p.counts[d].toLocaleString('en-GB')} ${d}`).join(', ')} (kept = only there or changed only there: left alone)</Typography>
      {total === 0 ? <Empty>{p.stageName} already equals {p.version}. Promoting would change nothing.</Empty> : (
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '300px minmax(0, 1fr)' }, gap: 2, alignItems: 'start' }}>
          <Panel title="Components">
            {differing.map((c) => (
              <Button key={c.key} data-item fullWidth onClick={() => set({ component: String(c.index) })} aria-pressed={c.index === at} sx={{ justifyContent: 'flex-start', textAlign: 'left', gap: 1, color: 'text.primary', fontWeight: c.index === at ? 650 : 400, bgcolor: c.index === at ? 'var(--mui-palette-signal-sunken)' : undefined, overflowWrap: 'anywhere' }}>
                <Sign of={c.difference} />{c.key}
              </Button>
            ))}
          </Panel>
          {chosen && <ComponentDetail key={chosen.index} p={p} c={chosen} only={only} />}
        </Box>
      )}
    </>
  );
}

function ComponentDetail({ p, c, only }: { p: Promotion; c: Schemas['ComponentChange']; only: string | null }) {
  const number = p.number;
  const decide = useAct(number, (decision: string) => unwrap(client.POST('/api/v1/promotions/{number}/decide', { params: { path: { number } }, body: { decisions: { [c.key]: decision } } })));
  return (
    <Panel title={c.key} production={p.production}>
      <Problem error={decide.error} />
      {c.counts.conflict > 0 && (
        <Box sx={{ mb: 2 }}>
          <Typography sx={{ mb: 1, maxWidth: '72ch' }}>{c.counts.conflict} changed both here and in the version. {p.decisions[c.key] ? <b>Decided: {p.decisions[c.key]}.</b> : 'Decide what holds; there is no default.'}</Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
            <Act kind="outlined" why={p.whyNot.decide} busy={decide.isPending} onClick={() => decide.mutate('take-incoming')}>Take {p.version} for all of them</Act>
            <Act kind="outlined" why={p.whyNot.decide} busy={decide.isPending} onClick={() => decide.mutate('keep')}>Keep what is in {p.stageName}</Act>
          </Box>
        </Box>
      )}
      {c.parts.map((part) => (
        <Box key={part.part} sx={{ mb: 2 }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}><Sign of={part.difference} /><b>{part.part}</b> {part.difference}</Box>
          <Attributes of={part.part} list={part.attributes} p={p} />
        </Box>
      ))}
      {c.key.startsWith('records/') && [...classes, ...(only === null ? ['kept'] : [])].filter((d) => (!only || d === only) && c.counts[d as 'added'] > 0).map((d) => <RowList key={d} p={p} c={c} difference={d} />)}
    </Panel>
  );
}

function RowList({ p, c, difference }: { p: Promotion; c: Schemas['ComponentChange']; difference: string }) {
  const [cursors, setCursors] = useState<(string | undefined)[]>([undefined]);
  const page = useQuery(rows(p.number, c.index, difference, cursors[cursors.length - 1], p.comparedAt ?? ''));
  const total = c.counts[difference as 'added'];
  const last = Math.floor((total - 1) / 200) * 200;
  return (
    <Box sx={{ mb: 2 }}>
      <Typography variant="h3" sx={{ mb: 1 }}>{total.toLocaleString('en-GB')} {difference}</Typography>
      <Problem error={page.error} />
      {!page.data ? <Loading what="rows" /> : page.data.items.map((r) => (
        <Box key={r.key} sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}>
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mb: 0.5 }}><Sign of={r.difference} /><Box component="span" sx={{ fontWeight: 650, overflowWrap: 'anywhere' }}>{r.key.replaceAll('"', '')}</Box><Typography component="span" variant="caption" color="textSecondary">{r.difference}, {plural(r.attributes.length, 'attribute', 'attributes')}{r.valuesHidden ? '; you may not see values here' : ''}</Typography></Box>
          <Attributes of={r.key} list={r.attributes} p={p} />
        </Box>
      ))}
      {total > 200 && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1, flexWrap: 'wrap' }}>
          <Button variant="outlined" size="small" disabled={cursors.length < 2} onClick={() => setCursors(cursors.slice(0, -1))}>Before</Button>
          <Button variant="outlined" size="small" disabled={!page.data?.next} onClick={() => setCursors([...cursors, page.data?.next ?? undefined])}>Next 200</Button>
          <Button variant="outlined" size="small" onClick={() => setCursors([undefined, String(last)])}>Last</Button>
        </Box>
      )}
    </Box>
  );
}

function Attributes({ of, list, p }: { of: string; list: Schemas['AttributeChange'][]; p: Promotion }) {
  if (list.length === 0) return null;
  const show = (v: string | null | undefined, absent: boolean) => (absent ? <i>not there</i> : v == null ? <i>null</i> : v === '' ? <i>empty</i> : v);
  return (
    <Rows label={`What differs in ${of}`} heads={['Attribute', `${p.stageName} now`, `Incoming ${p.version}`]}>
      {list.map((a) => (
        <tr key={a.name}>
          <td style={{ fontWeight: 600 }}>{a.name}</td>
          <td style={{ overflowWrap: 'anywhere' }}>{show(a.present, a.presentAbsent)}</td>
          <td><Box component="span" sx={{ fontWeight: 650, overflowWrap: 'anywhere', ...(a.incomingAbsent ? {} : { bgcolor: 'var(--mui-palette-signal-cautionT)', borderLeft: '3px solid var(--mui-palette-signal-caution)', pl: 0.75, pr: 0.75 }) }}>{show(a.incoming, a.incomingAbsent)}</Box></td>
        </tr>
      ))}
    </Rows>
  );
}
