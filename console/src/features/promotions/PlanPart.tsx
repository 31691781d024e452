import { Box, Typography } from '@mui/material';
import { duration, plural } from '../../shared/time';
import { NoReturn, Panel } from '../../shared/ui/parts';
import type { Promotion } from './api';

/** The ordered steps, the no-return line, the exact statements, the ways back. */
export function PlanPart({ p }: { p: Promotion }) {
  if (!p.plan) return null;
  const plan = p.plan;
  return (
    <>
      <Panel title="Steps" production={p.production}>
        <Typography variant="body2" color="textSecondary">{p.usualSeconds ? `Takes about ${duration(p.usualSeconds)}, as earlier runs here took.` : 'No estimate: the first run here.'}</Typography>
        <Box component="ol" sx={{ listStyle: 'none', p: 0, m: 0 }}>
          {plan.steps.map((s) => (
            <Box component="li" key={s.number}>
              {s.number === plan.noReturn && <NoReturn />}
              <Box sx={{ py: 1, borderTop: '1px solid var(--mui-palette-divider)' }}>
                <b>{s.number}. {s.name}</b> <Typography component="span" color="textSecondary">at {s.target}</Typography>
                <div>{s.what}</div>
                <Typography variant="caption" color="textSecondary">Undone by: {s.undo}</Typography>
              </Box>
            </Box>
          ))}
        </Box>
      </Panel>
      <Panel title="Ways back that an approval covers">
        {plan.waysBack.map((w) => <Box key={w.way} sx={{ mb: 0.5 }}><b>{w.way}</b>: {w.sentence}; up to {plural(w.ceiling, 'row', 'rows')} lost</Box>)}
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>Gates: {plan.gates.join('; ')}.</Typography>
      </Panel>
      <Panel title={plural(plan.statements.length, 'statement, exactly as it runs', 'statements, exactly as they run')}>
        <Box component="pre" tabIndex={0} aria-label="Statements" sx={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere', fontFamily: 'ui-monospace, monospace', fontSize: 12, lineHeight: '18px', bgcolor: 'var(--mui-palette-signal-sunken)', p: 1.5, m: 0 }}>
          {plan.statements.length === 0 ? 'None: nothing changes but the record.' : plan.statements.join(';\n') + ';'}
        </Box>
      </Panel>
    </>
  );
}
