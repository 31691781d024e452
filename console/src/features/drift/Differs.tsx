import { Box, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import type { Schemas } from '../../shared/data/api';
import { Attributes } from '../../shared/ui/differences';
import { Sign } from '../../shared/ui/parts';
import { t } from './texts';

type Line = Schemas['SideLineView'];

const signs: Record<string, string> = { changed: 'changed', gone: 'removed', 'only-there': 'kept' };

/** A part as people read it: "row PEAK", "column name", or the component itself. */
export function named(l: Line): string {
  const part = l.place.slice(l.component.length + 1).replaceAll('"', '');
  return part ? part.replace('/', ' ') : l.component;
}

/** One part that differs: what it is held against stands left, and what is there beside it. */
export function Differs({
  l,
  heads,
  before,
  behind,
}: {
  l: Line;
  heads: [string, string];
  before?: ReactNode;
  behind?: ReactNode;
}) {
  return (
    <Box sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1, mt: 1 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', mb: 0.5 }}>
        {before}
        <Sign of={signs[l.how] ?? 'kept'} />
        <Box component="span" sx={{ fontWeight: 650, overflowWrap: 'anywhere' }}>
          {named(l)}
        </Box>
        <Typography component="span" variant="caption" color="textSecondary">
          {t.how[l.how]}
          {behind}
          {l.valuesHidden ? `, ${t.hidden}` : ''}
        </Typography>
      </Box>
      <Attributes
        of={named(l)}
        list={l.attributes.map((a) => ({
          ...a,
          present: a.incoming,
          incoming: a.present,
          presentAbsent: a.incomingAbsent,
          incomingAbsent: a.presentAbsent,
          words: a.words && { present: a.words.incoming, incoming: a.words.present },
        }))}
        heads={heads}
      />
    </Box>
  );
}
