import { Box } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Choice } from '../../shared/ui/Choice';
import { Act, Go, PageTitle, Panel, Problem, Time } from '../../shared/ui/parts';
import { t } from './texts';
import { applications, pages, versions } from '../../shared/data/lists';
import { ANY, asked, useFilters } from '../../shared/data/filters';
import { ByApplication, Listing, Narrow } from '../../shared/ui/Listing';

export default function DraftsPage() {
  const navigate = useNavigate();
  const [application, setApplication] = useState('');
  const [from, setFrom] = useState('');
  const filters = useFilters({ state: 'open', application: '' });
  const drafts = useInfiniteQuery(
    pages(['drafts', 'list', filters.values, filters.size], (cursor) =>
      unwrap(
        client.GET('/api/v1/drafts', { params: { query: { ...asked(filters.values), cursor, limit: filters.size } } }),
      ),
    ),
  );
  const apps = useQuery(applications());
  const known = useQuery({ ...versions(application), enabled: application !== '' });
  const begin = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/drafts', { body: { application, from: from || undefined } })),
    onSuccess: (d) => navigate(`/drafts/${d.id}`),
  });
  return (
    <>
      <PageTitle title={t.listPage.drafts} note={t.listPage.selectionsThatBecomeTheNext}>
        <Narrow of={filters} name="state" label={t.listPage.show} any={ANY} choices={t.listPage.states} />
        <ByApplication of={filters} />
      </PageTitle>
      <Panel title={t.listPage.beginADraft}>
        <Problem error={begin.error} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <Choice
            label={t.listPage.application}
            value={application}
            onChange={(key) => {
              setApplication(key);
              setFrom('');
            }}
            of={(apps.data ?? []).map((a) => [a.key, a.name])}
          />
          <Choice
            label={t.listPage.fromVersion}
            value={from}
            onChange={setFrom}
            of={[
              ['', t.listPage.theNewest],
              ...(known.data ?? []).map((v): [string, string] => [v.number, `${v.number} ${v.title}`]),
            ]}
          />
          <Act
            why={application ? undefined : t.listPage.chooseAnApplication}
            busy={begin.isPending}
            onClick={() => begin.mutate()}
          >
            {t.listPage.beginADraft}
          </Act>
        </Box>
      </Panel>
      <Listing
        of={drafts}
        filters={filters}
        label={t.listPage.drafts}
        heads={t.listPage.heads}
        none={t.listPage.noneOpen}
      >
        {(d) => (
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
        )}
      </Listing>
    </>
  );
}
