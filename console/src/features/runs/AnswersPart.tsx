import { Typography } from '@mui/material';
import { Panel, Rows, State } from '../../shared/ui/parts';
import type { Run } from './api';
import { t } from './texts';

/** What the running system said before and after; values, so not for everybody. */
export function Answers({ r }: { r: Run }) {
  if (r.answers?.length === 0) return null;
  return (
    <Panel title={t.page.answers}>
      {!r.answers ? (
        <Typography variant="body2" color="textSecondary">
          {t.page.answersHidden}
        </Typography>
      ) : (
        <Rows label={t.page.answers} heads={t.page.answerHeads}>
          {r.answers.map((a) => (
            <tr key={a.question}>
              <td>{a.question}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{a.before ?? t.page.notAnswered}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{a.after ?? t.page.notAnswered}</td>
              <td>
                {a.outcome === 'failed' && <State word="failed" />}
                {a.words && <div>{a.words}</div>}
              </td>
            </tr>
          ))}
        </Rows>
      )}
    </Panel>
  );
}
