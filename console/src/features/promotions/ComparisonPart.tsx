import { whyNot } from '../../shared/data/rights';
import {
  Box,
  Button,
  FormControlLabel,
  Switch,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Attributes, RowList, SameParts, partName } from '../../shared/ui/differences';
import { Act, Download, Empty, Panel, Problem, Sign } from '../../shared/ui/parts';
import type { Promotion } from './api';
import { rows } from './api';
import { useAct } from './acting';
import { byConsequence, classes, decidedOf, differing, firstOf, movedByBoth, movedSince, quiet } from './model';
import { t } from './texts';

const name = (d: string) => d.charAt(0).toUpperCase() + d.slice(1);

/** The four numbers are the filters; same and kept stand smaller beside. */
export function ComparisonPart({ p }: { p: Promotion }) {
  const [params, setParams] = useSearchParams();
  const only = params.get('only');
  const list = differing(p.compared.components, only);
  const at = Number(params.get('component') ?? firstOf(list));
  const chosen = p.compared.components[at];
  const set = (next: Record<string, string>) => setParams({ part: 'comparison', ...(only ? { only } : {}), ...next });
  const total = classes.reduce((n, d) => n + p.compared.counts[d], 0);
  const [find, setFind] = useState('');
  return (
    <>
      <ToggleButtonGroup
        exclusive
        value={only}
        aria-label={t.comparisonPart.onlyTheseDifferences}
        onChange={(_, v: string | null) => setParams(v ? { part: 'comparison', only: v } : { part: 'comparison' })}
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: '1fr 1fr', sm: 'repeat(4, 1fr)' },
          gap: 1,
          mb: 1,
          '& button': {
            justifyContent: 'flex-start',
            border: '1px solid var(--mui-palette-divider) !important',
            gap: 1,
            textTransform: 'none',
            color: 'text.primary',
            bgcolor: 'background.paper',
          },
        }}
      >
        {classes.map((d) => (
          <ToggleButton key={d} value={d}>
            <Sign of={d} />
            <Box component="span" sx={{ fontSize: 24, lineHeight: '32px', fontWeight: 620 }}>
              {p.compared.counts[d].toLocaleString('en-GB')}
            </Box>{' '}
            {name(d)}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Proportion p={p} />
      <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
        {t.comparisonPart.keptOnlyThereOrChanged(
          quiet.map((d) => `${p.compared.counts[d].toLocaleString('en-GB')} ${d}`).join(', '),
        )}
        <Download href={`/api/v1/promotions/${p.number}/comparison`}>
          {t.comparisonPart.saveTheWholeComparisonAs}
        </Download>
      </Typography>
      {total === 0 ? (
        <Empty>
          {p.goal.purpose === 'values'
            ? t.comparisonPart.valuesOnly
            : t.comparisonPart.changesNothing(p.goal.stageName)}
        </Empty>
      ) : (
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '300px minmax(0, 1fr)' },
            gap: 2,
            alignItems: 'start',
          }}
        >
          <Panel title={t.comparisonPart.components}>
            {list.length > 8 && (
              <TextField
                size="small"
                fullWidth
                label={t.comparisonPart.find}
                value={find}
                onChange={(e) => setFind(e.target.value)}
                slotProps={{ htmlInput: { 'data-find': true } }}
                sx={{ mb: 1 }}
              />
            )}
            {byConsequence(
              list.filter((c) => c.key.toLowerCase().includes(find.toLowerCase())),
              p.impact.findings,
            ).map((g, _, groups) => (
              <Box key={g.consequence} component="section" aria-label={t.comparisonPart.consequence[g.consequence]}>
                {(groups.length > 1 || g.consequence !== 'rest') && (
                  <Typography variant="caption" component="h3" color="textSecondary" sx={{ mt: 1, display: 'block' }}>
                    {t.comparisonPart.consequence[g.consequence]}
                  </Typography>
                )}
                {g.components.map((c) => (
                  <Button
                    key={c.key}
                    data-item
                    fullWidth
                    onClick={() => set({ component: String(c.index) })}
                    aria-pressed={c.index === at}
                    sx={{
                      justifyContent: 'flex-start',
                      textAlign: 'left',
                      gap: 1,
                      color: 'text.primary',
                      fontWeight: c.index === at ? 650 : 400,
                      bgcolor: c.index === at ? 'var(--mui-palette-signal-sunken)' : undefined,
                      overflowWrap: 'anywhere',
                    }}
                  >
                    <Sign of={c.difference} />
                    <span>
                      {c.key}
                      {movedSince(p.compared.moved, c.key) && (
                        <Typography component="span" variant="caption" color="textSecondary">
                          {t.comparisonPart.moved}
                        </Typography>
                      )}
                    </span>
                  </Button>
                ))}
              </Box>
            ))}
          </Panel>
          {chosen && <ComponentDetail key={`${chosen.index} ${p.compared.at}`} p={p} c={chosen} only={only} />}
        </Box>
      )}
    </>
  );
}

/** How much of each; drawn, with the numbers above as its text. */
function Proportion({ p }: { p: Promotion }) {
  const all = [...classes, ...quiet].map((d) => ({ d, n: p.compared.counts[d] })).filter((x) => x.n > 0);
  const sum = all.reduce((n, x) => n + x.n, 0);
  if (sum === 0) return null;
  const tone: Record<string, string> = {
    conflict: 'fault',
    removed: 'fault',
    changed: 'caution',
    added: 'good',
    same: 'edge',
    kept: 'quiet',
  };
  const widths = all.map((x) => Math.max(4, (x.n / sum) * 1000));
  const scale = 1000 / widths.reduce((a, b) => a + b, 0);
  return (
    <svg
      viewBox="0 0 1000 8"
      preserveAspectRatio="none"
      width="100%"
      height="8"
      aria-hidden
      style={{ display: 'block', marginBottom: 8 }}
    >
      {all.map((x, i) => (
        <rect
          key={x.d}
          x={widths.slice(0, i).reduce((a, b) => a + b, 0) * scale}
          y={x.d === 'same' ? 3 : 0}
          width={Math.max(1, widths[i]! * scale - 3)}
          height={x.d === 'same' ? 2 : 8}
          fill={`var(--mui-palette-signal-${tone[x.d]})`}
        />
      ))}
    </svg>
  );
}

function ComponentDetail({ p, c, only }: { p: Promotion; c: Schemas['ComponentChange']; only: string | null }) {
  const number = p.number;
  const [same, setSame] = useState(false);
  const heads: [string, string] = [`${p.goal.stageName} now`, t.comparisonPart.incoming(p.goal.version)];
  const many = useAct(number, (decisions: Record<string, string>) =>
    unwrap(client.POST('/api/v1/promotions/{number}/decide', { params: { path: { number } }, body: { decisions } })),
  );
  const decide = {
    ...many,
    mutate: (d: { at: string; decision: string }) => many.mutate({ [d.at]: d.decision }),
  };
  const one = (part: string, both: boolean) => (
    <Decision
      p={p}
      // a definition is decided as a whole
      at={part.startsWith('content/') ? c.key : `${c.key}#${part}`}
      component={c.key}
      both={both}
      busy={decide.isPending}
      decide={decide.mutate}
    />
  );
  return (
    <Panel title={c.key} production={p.goal.production}>
      <Problem error={decide.error} />
      {c.counts.conflict > 0 && (
        <Box sx={{ mb: 2 }}>
          <Typography sx={{ mb: 1, maxWidth: '72ch' }}>
            {t.comparisonPart.changedBothHereAndIn(c.counts.conflict)}
            {p.choices.decisions[c.key] ? (
              <b>
                {t.comparisonPart.decidedForAll} {p.choices.decisions[c.key]}.
              </b>
            ) : (
              t.comparisonPart.decideWhatHoldsForAll
            )}
          </Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
            <Act
              kind="outlined"
              why={whyNot(p.may.decide)}
              busy={decide.isPending}
              onClick={() => decide.mutate({ at: c.key, decision: 'take-incoming' })}
            >
              {t.comparisonPart.takeForAllOfThem(p.goal.version)}
            </Act>
            <Act
              kind="outlined"
              why={whyNot(p.may.decide)}
              busy={decide.isPending}
              onClick={() => decide.mutate({ at: c.key, decision: 'keep' })}
            >
              {t.comparisonPart.keepWhatIsIn(p.goal.stageName)}
            </Act>
          </Box>
        </Box>
      )}
      {c.parts.map((part) => (
        <Box key={part.part} sx={{ mb: 2 }}>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, mb: 0.5 }}>
            <Sign of={part.difference} />
            <b>{partName(part.part)}</b> {part.difference}
            {part.difference === 'conflict' && one(part.part, part.mayTakeBoth)}
          </Box>
          <Attributes
            of={part.part}
            list={part.attributes}
            heads={heads}
            conflict={part.difference === 'conflict'}
            decide={
              part.difference === 'conflict' && part.part === 'content/' && part.attributes.some(movedByBoth)
                ? (a) =>
                    movedByBoth(a) && <Member p={p} c={c} name={a.name} busy={many.isPending} decide={many.mutate} />
                : undefined
            }
          />
        </Box>
      ))}
      {/^(records|table)\//.test(c.key) && p.goal.purpose !== 'backup' && (
        <FormControlLabel
          control={<Switch size="small" checked={same} onChange={(_, on) => setSame(on)} />}
          label={c.key.startsWith('table/') ? t.comparisonPart.showSameParts : t.comparisonPart.showSame}
          sx={{ mb: 1 }}
        />
      )}
      {same && c.key.startsWith('table/') && p.goal.purpose !== 'backup' && (
        <SameParts
          load={(from, find) => rows(number, c.index, 'same', { from, find, all: true }, p.compared.at ?? '')}
        />
      )}
      {c.key.startsWith('records/') &&
        [
          ...classes,
          ...(only === null ? ['kept' as const] : []),
          ...(same && p.goal.purpose !== 'backup' ? ['same' as const] : []),
        ]
          .filter((d) => (!only || d === only || d === 'same') && c.counts[d] > 0)
          .map((d) => (
            <RowList
              key={`${d} ${same}`}
              difference={d}
              total={c.counts[d]}
              heads={heads}
              load={(from, find) => rows(number, c.index, d, { from, find, all: same }, p.compared.at ?? '')}
              extra={d === 'conflict' ? (r) => one(`row/${r.key}`, Boolean(r.both)) : undefined}
            />
          ))}
    </Panel>
  );
}

/** One member of a definition that both sides moved: the rest is taken from whoever moved it. */
function Member({
  p,
  c,
  name,
  busy,
  decide,
}: {
  p: Promotion;
  c: Schemas['ComponentChange'];
  name: string;
  busy: boolean;
  decide: (decisions: Record<string, string>) => void;
}) {
  const at = `${c.key}#member/${name}`;
  if (whyNot(p.may.decide)) return null;
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={p.choices.decisions[at] ?? null}
      disabled={busy}
      aria-label={t.comparisonPart.decisionFor(at)}
      onChange={(_, v: string | null) => v && decide({ [c.key]: 'take-both', [at]: v })}
      sx={{ '& button': { textTransform: 'none', py: 0, px: 1, minHeight: 24, whiteSpace: 'nowrap' } }}
    >
      <ToggleButton value="take-incoming">{t.comparisonPart.take(p.goal.version)}</ToggleButton>
      <ToggleButton value="keep">{t.comparisonPart.keep}</ToggleButton>
    </ToggleButtonGroup>
  );
}

/** One conflict's own decision; it stands before the component's. */
function Decision({
  p,
  at,
  component,
  both,
  busy,
  decide,
}: {
  p: Promotion;
  at: string;
  component: string;
  both: boolean;
  busy: boolean;
  decide: (d: { at: string; decision: string }) => void;
}) {
  const decided = decidedOf(p.choices.decisions, component, at);
  if (whyNot(p.may.decide))
    return decided ? (
      <Typography component="span" variant="caption">
        {t.comparisonPart.decided(decided)}
      </Typography>
    ) : null;
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={decided}
      disabled={busy}
      aria-label={t.comparisonPart.decisionFor(at)}
      onChange={(_, v: string | null) => v && decide({ at, decision: v })}
      sx={{ '& button': { textTransform: 'none', py: 0, px: 1, minHeight: 24 } }}
    >
      <ToggleButton value="take-incoming">{t.comparisonPart.take(p.goal.version)}</ToggleButton>
      <ToggleButton value="keep">{t.comparisonPart.keep}</ToggleButton>
      {both && <ToggleButton value="take-both">{t.comparisonPart.takeBoth}</ToggleButton>}
    </ToggleButtonGroup>
  );
}
