import { Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Download, Panel, Problem, Rows } from '../../shared/ui/parts';
import { carryOver, type Promotion } from './api';
import { t } from './texts';

/** What becomes of the values of every column whose table gets another structure. */
export function CarryOverPart({ p }: { p: Promotion }) {
  const q = useQuery(carryOver(p.number, p.compared.at));
  const lines = q.data?.lines ?? [];
  if (q.error) return <Problem error={q.error} />;
  if (lines.length === 0) return null;
  const lost = lines.filter((l) => l.fate === 'not carried' && l.filled > 0).length;
  return (
    <Panel title={t.carryOver.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.carryOver.hint} {lost > 0 ? t.carryOver.lost(lost) : t.carryOver.none}
      </Typography>
      <Rows label={t.carryOver.title} heads={t.carryOver.heads}>
        {lines.map((l) => (
          <tr key={`${l.table} ${l.column} ${l.becomes}`}>
            <td style={{ overflowWrap: 'anywhere' }}>{l.table}</td>
            <td style={{ overflowWrap: 'anywhere' }}>{t.carryOver.column(l.column, l.becomes)}</td>
            <td>
              <b>{t.carryOver.fates[l.fate] ?? l.fate}</b>
            </td>
            <td>{l.column === '' ? '' : t.carryOver.counted(l.filled, l.rows)}</td>
            <td style={{ overflowWrap: 'anywhere' }}>{l.reason}</td>
          </tr>
        ))}
      </Rows>
      <Download href={`/api/v1/promotions/${p.number}/carry-over/csv`}>{t.carryOver.csv}</Download>
    </Panel>
  );
}
