import { Box, TextField, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { itemsOf, pages } from '../../shared/data/lists';
import { whyNot } from '../../shared/data/rights';
import { SetupParts } from '../../shared/ui/SetupParts';
import { Act, Empty, Loading, More, PageTitle, Panel, Problem, State, Time } from '../../shared/ui/parts';
import { Hint, line } from './parts';
import { t } from './texts';

type Proposal = Schemas['ProposalView'];

/** Changes of what guards production: those that wait first, then what became of the others. */
export default function ProposalsPage() {
  const all = useInfiniteQuery(
    pages(['proposals'], (cursor) => unwrap(client.GET('/api/v1/proposals', { params: { query: { cursor } } }))),
  );
  const items = itemsOf(all.data);
  const open = items?.filter((p) => p.state === 'open') ?? [];
  const over = items?.filter((p) => p.state !== 'open') ?? [];
  return (
    <>
      <PageTitle title={t.proposals.title} note={t.proposals.note} />
      <SetupParts />
      <Problem error={all.error} />
      {!items && !all.error && <Loading what={t.proposals.loading} />}
      {items && (
        <>
          <Panel title={t.proposals.waiting}>
            {open.length === 0 ? <Empty>{t.proposals.none}</Empty> : open.map((p) => <One key={p.number} p={p} />)}
          </Panel>
          {over.length > 0 && (
            <Panel title={t.proposals.over}>
              {over.map((p) => (
                <One key={p.number} p={p} />
              ))}
            </Panel>
          )}
          <More of={all} />
        </>
      )}
    </>
  );
}

function One({ p }: { p: Proposal }) {
  return (
    <Box component="article" aria-label={p.number} sx={{ mb: 2, overflowWrap: 'anywhere' }}>
      <Typography sx={{ fontWeight: 650 }}>
        {p.number} {t.proposals.of(p.what)} <State word={t.proposals.states[p.state] ?? p.state} />
      </Typography>
      <Box sx={{ maxWidth: '88ch' }}>{p.words}</Box>
      <Typography variant="body2" color="textSecondary">
        {t.proposals.asked(p.by)} <Time at={p.at} />
        {t.proposals.at(p.stages.join(', '))}
        {p.state === 'alone' && t.proposals.nobodyElse}
        {p.second && p.decidedAt && (
          <>
            {t.proposals.decided[p.state] ?? t.proposals.decidedBy} {p.second} <Time at={p.decidedAt} />
          </>
        )}
        {p.note && <>: {p.note}</>}
      </Typography>
      {p.state === 'open' && <Decide p={p} />}
    </Box>
  );
}

function Decide({ p }: { p: Proposal }) {
  const queries = useQueryClient();
  const [note, setNote] = useState('');
  const params = { path: { number: p.number } };
  const say = useMutation({
    mutationFn: (word: 'agree' | 'decline' | 'withdraw') => {
      const body = { note };
      return word === 'agree'
        ? unwrap(client.POST('/api/v1/proposals/{number}/agree', { params, body }))
        : word === 'decline'
          ? unwrap(client.POST('/api/v1/proposals/{number}/decline', { params, body }))
          : unwrap(client.POST('/api/v1/proposals/{number}/withdraw', { params, body }));
    },
    onSettled: () => queries.invalidateQueries(),
  });
  const why = whyNot(p.mayDecide);
  return (
    <>
      <Problem error={say.error} />
      {!p.mayWithdraw && why && <Hint>{why}</Hint>}
      {p.mayWithdraw && <Hint>{t.proposals.ask(p.seconds)}</Hint>}
      <Box sx={{ ...line, mt: 0.5 }}>
        {(p.mayWithdraw || !why) && (
          <TextField
            size="small"
            label={t.proposals.say}
            value={note}
            onChange={(e) => setNote(e.target.value)}
            sx={{ flex: '1 1 260px', maxWidth: 480 }}
          />
        )}
        {!why && (
          <>
            <Act busy={say.isPending} onClick={() => say.mutate('agree')}>
              {t.proposals.agree(p.number)}
            </Act>
            <Act
              kind="outlined"
              why={note.trim() ? undefined : t.proposals.sayWhy}
              busy={say.isPending}
              onClick={() => say.mutate('decline')}
            >
              {t.proposals.decline}
            </Act>
          </>
        )}
        {p.mayWithdraw && (
          <Act kind="outlined" busy={say.isPending} onClick={() => say.mutate('withdraw')}>
            {t.proposals.withdraw(p.number)}
          </Act>
        )}
      </Box>
    </>
  );
}
