import { Typography } from '@mui/material';
import { plural } from '../time';
import { Go } from './parts';
import { t } from './texts';

/** One of several promotions that go together. */
export interface PartOfMany {
  promotion: string;
  state: string;
  counts: { removed: number; changed: number; added: number };
  blockers: number;
  risks: number;
  approvedBy: string[];
  approvers: string[];
}

/** The cell with what it changes, and the one with who said yes or may. */
export function PlanCells({ p }: { p: PartOfMany }) {
  return (
    <>
      <td>
        −{p.counts.removed} ≠{p.counts.changed} +{p.counts.added}
        {p.blockers + p.risks > 0 && (
          <div>
            <Go to={`/promotions/${p.promotion}?part=findings`}>
              {[
                p.blockers > 0 && plural(p.blockers, 'blocker', 'blockers'),
                p.risks > 0 && plural(p.risks, 'risk', 'risks'),
              ]
                .filter(Boolean)
                .join(', ')}
            </Go>
          </div>
        )}
      </td>
      <td>
        {p.approvedBy.join(', ') ||
          (p.state === 'ready' && (
            <Typography variant="caption" color="textSecondary">
              {t.part.mayBeGivenBy(p.approvers.join(', ') || t.part.nobody)}
            </Typography>
          ))}
      </td>
    </>
  );
}
