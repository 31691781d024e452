import { Box, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Act, Panel, Problem, Time } from '../../shared/ui/parts';
import { useDraftAct, type Draft } from './api';

/** The last word: number, title and what it needs. */
export function Seal({ d }: { d: Draft }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [number, setNumber] = useState(d.proposedNumber);
  const [title, setTitle] = useState('');
  const [needs, setNeeds] = useState('');
  const [tasks, setTasks] = useState('');
  const check = useDraftAct(d.id, () =>
    unwrap(client.POST('/api/v1/drafts/{id}/check', { params: { path: { id: d.id } } })),
  );
  const seal = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/drafts/{id}/seal', {
          params: { path: { id: d.id } },
          body: {
            number,
            title,
            notes: '',
            needs: needs.trim()
              ? needs
                  .split('\n')
                  .map((x) => x.trim())
                  .filter(Boolean)
              : undefined,
            tasks: tasks.split(/[\s,]+/).filter(Boolean),
          },
        }),
      ),
    onSuccess: (v) => {
      void queries.invalidateQueries({ queryKey: ['versions', v.application] });
      navigate(`/versions/${v.application}/${v.number}`);
    },
  });
  const why =
    d.problems.length > 0
      ? d.checkedAt
        ? 'Something is in the way.'
        : 'Check it first.'
      : !title
        ? 'Give it a title.'
        : undefined;
  return (
    <Panel title="Seal">
      <Problem error={check.error ?? seal.error} />
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, alignItems: 'flex-start' }}>
        <Act
          kind="outlined"
          why={d.picks.length ? undefined : 'Pick something first.'}
          busy={check.isPending}
          onClick={() => check.mutate()}
        >
          Check every pick at the source
        </Act>
        {d.checkedAt && (
          <Typography variant="caption" color="textSecondary">
            Checked <Time at={d.checkedAt} />
          </Typography>
        )}
        <TextField size="small" label="Number" value={number} onChange={(e) => setNumber(e.target.value)} />
        <TextField size="small" label="Title" value={title} onChange={(e) => setTitle(e.target.value)} fullWidth />
        <TextField
          size="small"
          multiline
          label="Needs, one a line (sailings >=1.8.0, server/database >=15.0.0); empty: as before"
          value={needs}
          onChange={(e) => setNeeds(e.target.value)}
          fullWidth
        />
        <TextField
          size="small"
          label="Done for (FERRY-118, or an https address)"
          value={tasks}
          onChange={(e) => setTasks(e.target.value)}
          fullWidth
        />
        <Act why={why} busy={seal.isPending} onClick={() => seal.mutate()}>
          Seal {d.application} {number}
        </Act>
      </Box>
    </Panel>
  );
}
