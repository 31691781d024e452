import { Box, Button, TextField } from '@mui/material';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { Act, Problem } from '../../shared/ui/parts';
import { useAct } from './acting';
import type { Promotion } from './api';
import { t } from './texts';

/** What it is for: changed until the run, drafted from the comparison; the history keeps both. */
export function Notes({ p }: { p: Promotion }) {
  const [text, setText] = useState<string | null>(null);
  const save = useAct(p.number, (notes: string) =>
    unwrap(
      client.POST('/api/v1/promotions/{number}/notes', { params: { path: { number: p.number } }, body: { notes } }),
    ),
  );
  // whoever may withdraw it may say what it is for
  const may = Boolean(p.may.withdraw?.allowed) && p.state !== 'running';
  if (text === null)
    return (
      <>
        <Box component="span" sx={{ whiteSpace: 'pre-line', overflowWrap: 'anywhere' }}>
          {p.goal.notes}
        </Box>{' '}
        {may ? (
          <Button size="small" onClick={() => setText(p.goal.notes)}>
            {p.goal.notes ? t.notes.change : t.notes.write}
          </Button>
        ) : (
          !p.goal.notes && t.notes.none
        )}
      </>
    );
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1, alignItems: 'flex-start' }}>
      <Problem error={save.error} />
      <TextField
        multiline
        fullWidth
        size="small"
        label={t.notes.label}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        <Act
          kind="outlined"
          busy={save.isPending}
          onClick={() => save.mutate(text, { onSuccess: () => setText(null) })}
        >
          {t.notes.save}
        </Act>
        {p.prepared.draftedNotes !== '' && (
          <Act kind="outlined" onClick={() => setText(p.prepared.draftedNotes)}>
            {t.notes.draft}
          </Act>
        )}
        <Button size="small" onClick={() => setText(null)}>
          {t.notes.leave}
        </Button>
      </Box>
    </Box>
  );
}
