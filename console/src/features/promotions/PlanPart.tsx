import { whyNot } from '../../shared/data/rights';
import { Box, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { plural, span } from '../../shared/time';
import { GivenValues } from '../../shared/ui/GivenValues';
import { Act, NoReturn, Panel, Problem } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { wayWords } from './model';
import { RehearsalPart } from './RehearsalPart';
import { t } from './texts';

/** The ordered steps, the no-return line, the exact statements, the ways back. */
export function PlanPart({ p }: { p: Promotion }) {
  if (!p.plan) return null;
  const plan = p.plan;
  // a database is the last that is switched
  const held = plan.steps.filter((s) => s.act === 'switch').at(-1);
  return (
    <>
      <Activation key={p.choices.activate.join()} p={p} />
      <Panel title={t.planPart.steps} production={p.goal.production}>
        <Typography variant="body2" color="textSecondary">
          {p.expected
            ? t.planPart.takesAboutAsEarlierRuns(span(p.expected), p.expected.runs)
            : t.planPart.noEstimateTheFirstRun}
          {p.usersOutExpected && ` ${t.planPart.usersOut(span(p.usersOutExpected))}`}
        </Typography>
        <Box component="ol" sx={{ listStyle: 'none', p: 0, m: 0 }}>
          {plan.steps.map((s) => (
            <Box component="li" key={s.number}>
              {s.number === plan.noReturn && <NoReturn />}
              <Box sx={{ py: 1, borderTop: '1px solid var(--mui-palette-divider)' }}>
                <b>
                  {s.number}. {s.name}
                </b>{' '}
                <Typography component="span" color="textSecondary">
                  {t.planPart.at(s.target)}
                </Typography>
                <div>{s.what}</div>
                {s === held && <Held locked={plan.locked} />}
                {!s.manual && (
                  <Typography variant="caption" color="textSecondary">
                    {t.planPart.undoneBy(s.undo)}
                  </Typography>
                )}
              </Box>
            </Box>
          ))}
        </Box>
      </Panel>
      <Gives p={p} />
      <RehearsalPart p={p} />
      <Panel title={t.planPart.waysBackThatAnApproval}>
        {plan.waysBack.map((w) => (
          <Box key={w.way} sx={{ mb: 0.5 }}>
            <b>{w.way}</b>: {wayWords(w)}
          </Box>
        ))}
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          {t.planPart.gates(plan.gates.map((g) => g.words).join('; '))}
        </Typography>
      </Panel>
      <Panel
        title={plural(
          plan.statements.length,
          t.planPart.statementExactlyAsItRuns,
          t.planPart.statementsExactlyAsTheyRun,
        )}
      >
        <Box
          component="pre"
          tabIndex={0}
          aria-label={t.planPart.statements}
          sx={{
            whiteSpace: 'pre-wrap',
            overflowWrap: 'anywhere',
            fontFamily: 'ui-monospace, monospace',
            fontSize: 12,
            lineHeight: '18px',
            bgcolor: 'var(--mui-palette-signal-sunken)',
            p: 1.5,
            m: 0,
          }}
        >
          {plan.statements.length === 0 ? t.planPart.noneNothingChangesButThe : plan.statements.join(';\n') + ';'}
        </Box>
      </Panel>
    </>
  );
}

/** Whom the switch keeps waiting at which table. */
function Held({ locked }: { locked: NonNullable<Promotion['plan']>['locked'] }) {
  if (locked.seconds == null) return null;
  return (
    <Box sx={{ my: 0.5 }}>
      {t.planPart.holds(locked.about, locked.basis)}
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {locked.tables.map((l) => (
          <li key={l.table}>{t.planPart.held(l.table, l.words, l.because)}</li>
        ))}
      </Box>
    </Box>
  );
}

/** What the host is given of values: secrets as what they are, and no more. */
export function Gives({ p }: { p: Promotion }) {
  const gives = p.compared.gives;
  if (gives.length === 0) return null;
  return (
    <Panel title={t.planPart.givesTitle}>
      <GivenValues gives={gives} />
    </Panel>
  );
}

/** Rules, forms and integrations that come: new ones arrive off unless they are ticked here. */
function Activation({ p }: { p: Promotion }) {
  const coming = p.compared.components.filter(
    (c) => /^(rule|form|integration)\//.test(c.key) && (c.difference === 'added' || c.difference === 'changed'),
  );
  const [on, setOn] = useState<string[]>(p.choices.activate);
  const act = useAct(p.number, () =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/activate', {
        params: { path: { number: p.number } },
        body: { components: on },
      }),
    ),
  );
  if (coming.length === 0) return null;
  const same = [...on].sort().join() === [...p.choices.activate].sort().join();
  return (
    <Panel title={t.planPart.switchedOnByThisRun}>
      <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch' }}>
        {t.planPart.whatIsNewArrivesSwitched}
      </Typography>
      <Problem error={act.error} />
      {coming.map((c) => (
        <FormControlLabel
          key={c.key}
          sx={{ display: 'flex' }}
          label={`${c.key} (${c.difference === 'added' ? t.planPart.new : t.planPart.changed})`}
          control={
            <Checkbox
              size="small"
              disabled={Boolean(whyNot(p.may.decide))}
              checked={on.includes(c.key)}
              onChange={(_, v) => setOn(v ? [...on, c.key] : on.filter((x) => x !== c.key))}
            />
          }
        />
      ))}
      <Act
        kind="outlined"
        why={whyNot(p.may.decide) || (same ? t.planPart.nothingChanged : undefined)}
        busy={act.isPending}
        onClick={() => act.mutate()}
      >
        {t.planPart.saveWhatIsSwitchedOn}
      </Act>
    </Panel>
  );
}
