import type { Schemas } from '../data/api';
import { Rows } from './parts';
import { t } from './texts';

/** What the host is given of values: secrets as what they are, and no more. */
export function GivenValues({ gives }: { gives: Schemas['GivesView'][] }) {
  if (gives.length === 0) return null;
  return (
    <Rows label={t.given.label} heads={t.given.heads}>
      {gives.map((g) => (
        <tr key={g.input}>
          <td style={{ fontWeight: 600 }}>{g.input}</td>
          <td style={{ overflowWrap: 'anywhere' }}>{g.shown ?? t.given.forgotten}</td>
          <td>{g.from || (g.shown ? t.given.itsDefault : '')}</td>
          <td>{g.anew ? t.given.anew : t.given.firstTime}</td>
        </tr>
      ))}
    </Rows>
  );
}
