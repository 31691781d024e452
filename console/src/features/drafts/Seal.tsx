import { Box, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { asSeen, client, unwrap, type Schemas } from '../../shared/data/api';
import { ByHandFields } from '../../shared/ui/ByHand';
import { Act, Panel, Problem } from '../../shared/ui/parts';
import { acting, type Draft } from './api';
import { t } from './texts';

/** The last word: number, title and what it needs. */
export function Seal({ d }: { d: Draft }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [number, setNumber] = useState(d.proposedNumber);
  const [title, setTitle] = useState('');
  const [notes, setNotes] = useState('');
  const [needs, setNeeds] = useState('');
  const [tasks, setTasks] = useState('');
  const [manual, setManual] = useState<Schemas['ManualView'][]>([]);
  const seal = useMutation({
    mutationKey: acting(d.id),
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/drafts/{id}/seal', {
          params: { path: { id: d.id } },
          body: {
            number,
            title,
            notes,
            needs: needs.trim()
              ? needs
                  .split('\n')
                  .map((x) => x.trim())
                  .filter(Boolean)
              : undefined,
            tasks: tasks.split(/[\s,]+/).filter(Boolean),
            manual,
          },
          ...asSeen(d.revision),
        }),
      ),
    onSuccess: (v) => {
      void queries.invalidateQueries({ queryKey: ['versions', v.application] });
      navigate(`/versions/${v.application}/${v.number}`);
    },
    onError: () => void queries.invalidateQueries({ queryKey: ['drafts', d.id] }),
  });
  const why =
    d.checked.problems.length > 0
      ? d.checked.at
        ? t.seal.somethingIsInTheWay
        : t.seal.checkItFirst
      : !title
        ? t.seal.giveItATitle
        : manual.some((m) => !m.text.trim())
          ? t.seal.sayTheWork
          : undefined;
  return (
    <Panel title={t.seal.seal}>
      <Problem error={seal.error} />
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, alignItems: 'flex-start' }}>
        <TextField size="small" label={t.seal.number} value={number} onChange={(e) => setNumber(e.target.value)} />
        <TextField
          size="small"
          label={t.seal.title}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
          fullWidth
        />
        <TextField
          size="small"
          multiline
          label={t.seal.notes}
          value={notes}
          onChange={(e) => setNotes(e.target.value)}
          fullWidth
        />
        {d.checked.at && notes === '' && d.draftedNotes !== '' && (
          <Act kind="outlined" onClick={() => setNotes(d.draftedNotes)}>
            {t.seal.draftNotes}
          </Act>
        )}
        <TextField
          size="small"
          multiline
          label={t.seal.needsOneALine}
          helperText={t.seal.suchAs}
          value={needs}
          onChange={(e) => setNeeds(e.target.value)}
          fullWidth
        />
        <TextField
          size="small"
          label={t.seal.doneForFerry118Or}
          value={tasks}
          onChange={(e) => setTasks(e.target.value)}
          fullWidth
        />
        <ByHandFields of={manual} set={setManual} />
        <Act why={why} busy={seal.isPending} onClick={() => seal.mutate()}>
          {t.seal.sealVersion(d.application, number)}
        </Act>
      </Box>
    </Panel>
  );
}
