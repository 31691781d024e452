import { Box, Button, Typography } from '@mui/material';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Problem } from '../../shared/ui/parts';
import { useDraftAct } from './api';
import { SayRenamed } from './SayRenamed';
import { t } from './texts';

type Rename = Schemas['LikelyRenameView'];
type Said = Schemas['RenamedColumn'];

/** What is said of a pair, in words for columns or for whole tables. */
function words(r: Rename) {
  const table = r.is === r.component;
  const state = r.denied ? 'two' : r.one ? 'one' : 'asked';
  const said = {
    two: table ? t.renames.twoTables : t.renames.two,
    one: table ? t.renames.goesTable : t.renames.goes,
    asked: table ? t.renames.costTable : t.renames.cost,
  };
  const asked = table ? t.renames.askedTable : t.renames.asked;
  const sentence = (r.one ? t.renames.one : asked)(r.was, r.is);
  return {
    sentence: table ? sentence : `${r.component}: ${sentence}`,
    cost: said[state],
    sayOne: table ? t.renames.sayOneTable : t.renames.sayOne,
    sayTwo: table ? t.renames.sayTwoTables : t.renames.sayTwo,
  };
}

interface Props {
  id: string;
  open: boolean;
  renames: Rename[];
  /** Picked tables, by the names that they have at the source. */
  tables: string[];
}

/** Tables and columns of which only a person knows whether they were renamed. */
export function Renames({ id, open, renames, tables }: Props) {
  const two = useDraftAct(id, ({ component, was, is }: Rename) =>
    unwrap(client.POST('/api/v1/drafts/{id}/two-columns', { params: { path: { id } }, body: { component, was, is } })),
  );
  const one = useDraftAct(id, ({ component, was, is }: Said) =>
    unwrap(client.POST('/api/v1/drafts/{id}/renamed', { params: { path: { id } }, body: { component, was, is } })),
  );
  const busy = two.isPending || one.isPending;
  const mayBeSaid = open && tables.length > 0;
  if (renames.length === 0 && !mayBeSaid) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="h3">{t.renames.title}</Typography>
      <Problem error={two.error ?? one.error} />
      {renames.length === 0 && <Typography color="textSecondary">{t.renames.none}</Typography>}
      {renames.map((r) => {
        const say = words(r);
        return (
          <Box
            key={r.component + r.was + r.is}
            sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1, py: 0.75 }}
          >
            <Box sx={{ flex: '1 1 240px', minWidth: 0, overflowWrap: 'anywhere' }}>
              {say.sentence}
              <Typography variant="caption" component="div" color="textSecondary">
                {say.cost}
              </Typography>
            </Box>
            {!r.denied && !r.one && open && (
              <Button size="small" onClick={() => one.mutate(r)} disabled={busy}>
                {say.sayOne}
              </Button>
            )}
            {!r.denied && open && (
              <Button size="small" onClick={() => two.mutate(r)} disabled={busy}>
                {say.sayTwo}
              </Button>
            )}
          </Box>
        );
      })}
      {mayBeSaid && (
        <SayRenamed tables={tables} busy={busy} say={(asked, taken) => one.mutate(asked, { onSuccess: taken })} />
      )}
    </Box>
  );
}
