import { Typography } from '@mui/material';
import type { Schemas } from '../data/api';
import { Empty, Facts, Panel, Rows } from './parts';

/** A document of facts and tables, section by section. */
export function ReportView({ of }: { of: Schemas['WholeRecord'] }) {
  return (
    <>
      {of.sections.map((s) => (
        <Panel key={s.heading} title={s.heading}>
          {s.text && <Typography sx={{ whiteSpace: 'pre-line', overflowWrap: 'anywhere' }}>{s.text}</Typography>}
          {s.facts.length > 0 && <Facts list={s.facts.map((f): [string, string] => [f.name, f.value])} />}
          {s.rows.length > 0 ? (
            <Rows label={s.heading} heads={s.heads}>
              {s.rows.map((row, n) => (
                <tr key={n}>
                  {row.map((cell, c) => (
                    <td key={c} style={{ overflowWrap: 'anywhere', whiteSpace: 'pre-line' }}>
                      {cell}
                    </td>
                  ))}
                </tr>
              ))}
            </Rows>
          ) : (
            !s.text && s.facts.length === 0 && <Empty>{'–'}</Empty>
          )}
        </Panel>
      ))}
    </>
  );
}
