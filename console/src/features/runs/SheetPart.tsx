import { Alert, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import type { Schemas } from '../../shared/data/api';
import { sheet, type Run } from './api';
import { t } from './texts';

/** What stood at the site when the run had read it back, component by component. */
export function SheetPart({ r }: { r: Run }) {
  const readBack = r.steps.some((s) => s.name === 'Read back' && s.state === 'done');
  const q = useQuery({ ...sheet(r.number), enabled: readBack });
  if (!readBack) return null;
  const s = q.data;
  return (
    <Panel title={t.sheet.title}>
      <Problem error={q.error} />
      {s && (
        <>
          <Typography sx={{ mb: 1 }}>
            {s.asPlanned ? t.sheet.asPlanned : t.sheet.notAsPlanned} {t.sheet.read} <Time at={s.at} />.
          </Typography>
          {s.odd.length > 0 && (
            <Alert severity="warning" sx={{ mb: 1 }}>
              <ul style={{ margin: 0, paddingLeft: 18 }}>
                {s.odd.map((o) => (
                  <li key={o}>{o}</li>
                ))}
              </ul>
            </Alert>
          )}
          {s.lines.length > 0 && (
            <Rows label={t.sheet.title} heads={t.sheet.heads}>
              {s.lines.map((l) => (
                <tr key={l.component}>
                  <td>{l.component}</td>
                  <td>{l.planned}</td>
                  <td>{l.found}</td>
                  <td>
                    <State word={l.asPlanned ? 'as planned' : 'not as planned'} />
                  </td>
                  <td>{standing(l)}</td>
                  <td>
                    {l.changed && <Time at={l.changed} />}
                    {l.by && ` ${t.sheet.by(l.by)}`}
                  </td>
                  <td>{l.where}</td>
                </tr>
              ))}
            </Rows>
          )}
          {s.more > 0 && <Typography>{t.sheet.more(s.more)}</Typography>}
          {s.uncarried.length > 0 && (
            <Typography variant="body2" color="textSecondary" sx={{ mt: 1, overflowWrap: 'anywhere' }}>
              {t.sheet.uncarried(s.uncarried.join(', '))}
            </Typography>
          )}
        </>
      )}
    </Panel>
  );
}

/** Whether it works there: on, reached, with its values. */
function standing(l: Schemas['SheetLine']) {
  return [
    typeof l.active !== 'boolean' ? '' : l.active ? t.sheet.on : t.sheet.off,
    l.visible === false ? t.sheet.notVisible : '',
    l.unbound.length > 0 ? t.sheet.unbound(l.unbound.join(', ')) : '',
  ]
    .filter(Boolean)
    .join(', ');
}
