import { Box, TextField } from '@mui/material';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useFilters } from '../../shared/data/filters';
import { Listing } from '../../shared/ui/Listing';
import { Act, Go, PageTitle, Panel, Problem, State } from '../../shared/ui/parts';
import { releases, save, type Release } from './api';
import { Members } from './Members';
import { t } from './texts';

/** Every release, what it holds, and where it stands. */
export default function ReleasesPage() {
  const filters = useFilters({});
  const all = useInfiniteQuery(releases(filters.size));
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <Panel>
        <Listing of={all} filters={filters} label={t.title} heads={t.heads} none={t.none}>
          {(r) => <Line key={r.key} r={r} />}
        </Listing>
      </Panel>
      <Collect />
    </>
  );
}

function Line({ r }: { r: Release }) {
  return (
    <tr>
      <td>
        <Go to={`/releases/${r.key}`}>{r.key}</Go>
      </td>
      <td style={{ overflowWrap: 'anywhere' }}>{r.title}</td>
      <td>
        {r.members.map((m) => (
          <div key={m}>{m.replace('@', ' ')}</div>
        ))}
      </td>
      <td>
        {r.cases.map((c) => (
          <Box key={c.site} sx={{ display: 'flex', gap: 1 }}>
            {c.production ? <b>{c.site}</b> : c.site} <State word={c.state} />
          </Box>
        ))}
      </td>
    </tr>
  );
}

function Collect() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [key, setKey] = useState('');
  const [title, setTitle] = useState('');
  const [members, setMembers] = useState<string[]>([]);
  const act = useMutation({
    mutationFn: () => save(key, title, members, 0),
    onSuccess: async (r) => {
      await queries.invalidateQueries({ queryKey: ['releases'] });
      navigate(`/releases/${r.key}`);
    },
  });
  const why = !key || !title ? t.needKey : members.length === 0 ? t.needMember : undefined;
  return (
    <Panel title={t.collect}>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
        <TextField size="small" label={t.key} value={key} onChange={(e) => setKey(e.target.value)} />
        <TextField
          size="small"
          label={t.shown}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
          sx={{ minWidth: 260 }}
        />
      </Box>
      <Members chosen={members} set={setMembers} />
      <Act why={why} busy={act.isPending} onClick={() => act.mutate()}>
        {t.save}
      </Act>
    </Panel>
  );
}
