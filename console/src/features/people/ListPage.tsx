import { Box, TextField, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Go, PageTitle, Panel, Problem } from '../../shared/ui/parts';
import { t } from './texts';
import { asked, useFilters } from '../../shared/data/filters';
import { pages } from '../../shared/data/lists';
import { Listing } from '../../shared/ui/Listing';
import { SetupParts } from '../../shared/ui/SetupParts';
import Find from '../../shared/ui/Find';

/** What keeps somebody from working, in a word or two. */
export function standing(p: Schemas['PersonView']): string {
  return p.disabled ? t.disabled : p.mustChangePassword ? t.mustChange : '';
}

/** Everybody who can sign in. */
export default function PeoplePage() {
  const filters = useFilters({ find: '' });
  const all = useInfiniteQuery(
    pages(['people', 'list', filters.values, filters.size], (cursor) =>
      unwrap(
        client.GET('/api/v1/people', { params: { query: { ...asked(filters.values), cursor, limit: filters.size } } }),
      ),
    ),
  );
  return (
    <>
      <PageTitle title={t.title} note={t.note}>
        <Find label={t.find} value={filters.shown.find ?? ''} onChange={(find) => filters.set('find', find)} />
      </PageTitle>
      <SetupParts />
      <Panel>
        <Listing
          of={all}
          filters={filters}
          label={t.title}
          heads={t.heads}
          none={t.none}
          order={(a, b) => a.login.localeCompare(b.login)}
        >
          {(p) => (
            <tr key={p.login}>
              <td>
                <Go to={`/setup/people/${p.login}`}>{p.login}</Go>
              </td>
              <td>{p.name}</td>
              <td>{standing(p)}</td>
              <td>{p.grants.length + p.roles.length}</td>
            </tr>
          )}
        </Listing>
      </Panel>
      <Invite />
    </>
  );
}

function Invite() {
  const queries = useQueryClient();
  const [login, setLogin] = useState('');
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const may = useMissing('administer', '*', '*');
  const invite = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/people', { body: { login, name: name || login, password } })),
    onSuccess: () => {
      setLogin('');
      setName('');
      setPassword('');
      return queries.invalidateQueries({ queryKey: ['people'] });
    },
  });
  return (
    <Panel title={t.invite.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.invite.hint}
      </Typography>
      <Problem error={invite.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <TextField size="small" label={t.invite.name} value={login} onChange={(e) => setLogin(e.target.value)} />
        <TextField size="small" label={t.invite.shown} value={name} onChange={(e) => setName(e.target.value)} />
        <TextField
          size="small"
          type="password"
          autoComplete="new-password"
          label={t.invite.password}
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        <Act
          kind="outlined"
          why={may ?? (login && password ? undefined : t.invite.missing)}
          busy={invite.isPending}
          onClick={() => invite.mutate()}
        >
          {t.invite.act}
        </Act>
      </Box>
    </Panel>
  );
}
