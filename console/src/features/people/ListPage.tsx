import { Box, TextField, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Empty, Go, Loading, More, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { t } from './texts';
import { pages, itemsOf } from '../../shared/data/lists';

/** What keeps somebody from working, in a word or two. */
export function standing(p: Schemas['PersonView']): string {
  return p.disabled ? t.disabled : p.mustChangePassword ? t.mustChange : '';
}

/** Everybody who can sign in. */
export default function PeoplePage() {
  const all = useInfiniteQuery(
    pages(['people', 'list'], (cursor) => unwrap(client.GET('/api/v1/people', { params: { query: { cursor } } }))),
  );
  const items = itemsOf(all.data);
  return (
    <>
      <PageTitle title={t.title} note={t.note}>
        <Go to="/roles">{t.roles.go}</Go>
      </PageTitle>
      <Problem error={all.error} />
      {!all.error && (
        <Panel>
          {!items ? (
            <Loading what={t.people} />
          ) : items.length === 0 ? (
            <Empty>{t.none}</Empty>
          ) : (
            <>
              <Rows label={t.title} heads={t.heads}>
                {[...items]
                  .sort((a, b) => a.login.localeCompare(b.login))
                  .map((p) => (
                    <tr key={p.login}>
                      <td>
                        <Go to={`/people/${p.login}`}>{p.login}</Go>
                      </td>
                      <td>{p.name}</td>
                      <td>{standing(p)}</td>
                      <td>{p.grants.length + p.roles.length}</td>
                    </tr>
                  ))}
              </Rows>
              <More of={all} />
            </>
          )}
        </Panel>
      )}
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
