import { Alert, Box, TextField } from '@mui/material';
import type { UseMutationResult } from '@tanstack/react-query';
import { useState } from 'react';
import { whyNot } from '../data/rights';
import { Act, Problem } from './parts';
import { TakesAway, useTakesAway } from './TakesAway';

/** What was said, of exactly these plans. */
export interface Said {
  fingerprint: string;
  comment: string;
}

type Deed = 'approve' | 'reject' | 'start' | 'withdraw';

/** Yes, no, begin and withdraw of promotions that are agreed and started as one. */
export function AgreeActs({
  plans,
  may,
  away,
  acts,
  words,
}: {
  /** The fingerprint over all of them, as it is now. */
  plans: string | undefined;
  may: Record<string, Parameters<typeof whyNot>[0]>;
  away: ReturnType<typeof useTakesAway>;
  acts: Record<Deed, UseMutationResult<unknown, Error, Said>>;
  words: Record<Deed | 'comment' | 'sayWhy' | 'changed', string>;
}) {
  const [comment, setComment] = useState('');
  // what was on the screen first is what may be acted on: plans that come later are to be read first
  const [first, setFirst] = useState(plans);
  if (!first && plans) setFirst(plans);
  const moved = first && plans && first !== plans ? words.changed : undefined;
  const said = { fingerprint: first ?? '', comment };
  const silent = comment.trim() ? undefined : words.sayWhy;
  return (
    <>
      <Problem error={acts.approve.error ?? acts.reject.error ?? acts.start.error ?? acts.withdraw.error} />
      {moved && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          {moved}
        </Alert>
      )}
      <TextField
        label={words.comment}
        value={comment}
        onChange={(e) => setComment(e.target.value)}
        multiline
        fullWidth
        size="small"
        sx={{ mb: 2, maxWidth: 560 }}
      />
      <Box sx={{ display: 'flex', flexDirection: 'column', alignItems: 'flex-start', gap: 1.5 }}>
        <Act why={moved ?? whyNot(may.approve)} busy={acts.approve.isPending} onClick={() => acts.approve.mutate(said)}>
          {words.approve}
        </Act>
        <Act
          kind="outlined"
          why={moved ?? whyNot(may.approve) ?? silent}
          busy={acts.reject.isPending}
          onClick={() => acts.reject.mutate(said)}
        >
          {words.reject}
        </Act>
        <TakesAway of={away} />
        <Act
          kind={whyNot(may.start) ? 'outlined' : 'contained'}
          why={moved ?? whyNot(may.start) ?? away.why}
          busy={acts.start.isPending}
          onClick={() => acts.start.mutate(said)}
        >
          {words.start}
        </Act>
        <Act
          kind="outlined"
          why={whyNot(may.withdraw) ?? silent}
          busy={acts.withdraw.isPending}
          onClick={() => acts.withdraw.mutate(said)}
        >
          {words.withdraw}
        </Act>
      </Box>
    </>
  );
}
