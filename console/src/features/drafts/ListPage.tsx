import { Box, MenuItem, TextField } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Act, Empty, Go, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';

export default function DraftsPage() {
  const navigate = useNavigate();
  const [application, setApplication] = useState('');
  const [from, setFrom] = useState('');
  const drafts = useQuery({
    queryKey: ['drafts', 'list'],
    queryFn: () => unwrap(client.GET('/api/v1/drafts', { params: { query: {} } })),
  });
  const apps = useQuery({ queryKey: ['applications'], queryFn: () => unwrap(client.GET('/api/v1/applications')) });
  const versions = useQuery({
    queryKey: ['versions', application],
    enabled: application !== '',
    queryFn: () => unwrap(client.GET('/api/v1/versions', { params: { query: { application } } })),
  });
  const begin = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/drafts', { body: { application, from: from || undefined } })),
    onSuccess: (d) => navigate(`/drafts/${d.id}`),
  });
  return (
    <>
      <PageTitle title="Drafts" note="Selections that become the next version" />
      <Panel title="Begin a draft">
        <Problem error={begin.error} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <TextField
            select
            size="small"
            label="Application"
            value={application}
            onChange={(e) => {
              setApplication(e.target.value);
              setFrom('');
            }}
            sx={{ minWidth: 160 }}
          >
            {(apps.data ?? []).map((a) => (
              <MenuItem key={a.key} value={a.key}>
                {a.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            size="small"
            label="From version"
            value={from}
            onChange={(e) => setFrom(e.target.value)}
            sx={{ minWidth: 200 }}
          >
            <MenuItem value="">The newest</MenuItem>
            {(versions.data ?? []).map((v) => (
              <MenuItem key={v.number} value={v.number}>
                {v.number} {v.title}
              </MenuItem>
            ))}
          </TextField>
          <Act
            why={application ? undefined : 'Choose an application.'}
            busy={begin.isPending}
            onClick={() => begin.mutate()}
          >
            Begin a draft
          </Act>
        </Box>
      </Panel>
      <Problem error={drafts.error} />
      {!drafts.data ? (
        <Loading what="drafts" />
      ) : drafts.data.length === 0 ? (
        <Empty>No draft yet.</Empty>
      ) : (
        <Rows label="Drafts" heads={['Draft', 'Application', 'From', 'State', 'Picked', 'Author', 'Begun']}>
          {drafts.data.map((d) => (
            <tr key={d.id}>
              <td>
                <Go to={`/drafts/${d.id}`}>{d.id}</Go>
              </td>
              <td>{d.application}</td>
              <td>{d.from}</td>
              <td>{d.state}</td>
              <td>{d.picks.length}</td>
              <td>{d.author}</td>
              <td>
                <Time at={d.at} />
              </td>
            </tr>
          ))}
        </Rows>
      )}
    </>
  );
}
