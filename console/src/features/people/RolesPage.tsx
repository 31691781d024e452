import { Box, Button, Checkbox, FormControlLabel, FormGroup, FormLabel, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { rights, roles } from '../../shared/data/lists';
import { useMissing } from '../../shared/data/rights';
import { Changes } from '../../shared/ui/Changes';
import { SetupParts } from '../../shared/ui/SetupParts';
import { Act, Empty, Go, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { flat, Hint, line } from './parts';
import { t } from './texts';

type Role = Schemas['RoleView'];

/** Named sets of rights. */
export default function RolesPage() {
  const queries = useQueryClient();
  const all = useQuery(roles());
  const may = useMissing('administer', '*', '*');
  const { key = '' } = useParams();
  const navigate = useNavigate();
  const changing = all.data?.find((r) => r.key === key);
  const setChanging = (r?: Role) => navigate(r ? `/setup/roles/${r.key}` : '/setup/roles');
  const remove = useMutation({
    mutationFn: (key: string) => unwrap(client.DELETE('/api/v1/roles/{key}', { params: { path: { key } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['roles'] }),
  });
  return (
    <>
      <PageTitle title={changing ? t.roles.one(changing.name) : t.roles.title} note={t.roles.note} />
      <SetupParts />
      <Problem error={all.error ?? remove.error} />
      {!all.error && (
        <Panel>
          {!all.data ? (
            <Loading what={t.roles.loading} />
          ) : all.data.length === 0 ? (
            <Empty>{t.roles.none}</Empty>
          ) : (
            <Rows label={t.roles.title} heads={t.roles.heads}>
              {all.data.map((r) => (
                <tr key={r.key}>
                  <td>
                    <Go to={`/setup/roles/${r.key}`}>{r.key}</Go>
                  </td>
                  <td>{r.name}</td>
                  <td>{r.rights.join(', ')}</td>
                  <td>
                    <Button
                      size="small"
                      sx={flat}
                      disabled={Boolean(may)}
                      aria-label={t.roles.changeLabel(r.key)}
                      onClick={() => setChanging(r)}
                    >
                      {t.roles.change}
                    </Button>
                    <Button
                      size="small"
                      sx={flat}
                      disabled={Boolean(may) || remove.isPending}
                      aria-label={t.roles.removeLabel(r.key)}
                      onClick={() => remove.mutate(r.key)}
                    >
                      {t.roles.remove}
                    </Button>
                  </td>
                </tr>
              ))}
            </Rows>
          )}
        </Panel>
      )}
      <RoleForm key={changing?.key ?? ''} was={changing} may={may} onDone={() => setChanging(undefined)} />
      {changing && <Changes of={`role/${changing.key}`} />}
    </>
  );
}

function RoleForm({ was, may, onDone }: { was?: Role; may?: string; onDone: () => void }) {
  const queries = useQueryClient();
  const every = useQuery(rights());
  const [key, setKey] = useState(was?.key ?? '');
  const [name, setName] = useState(was?.name ?? '');
  const [some, setSome] = useState<string[]>(was?.rights ?? []);
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        client.PUT('/api/v1/roles/{key}', {
          params: { path: { key } },
          body: { name: name.trim() || key, rights: some, revision: was?.revision },
        }),
      ),
    onSuccess: () => {
      onDone();
      setKey('');
      setName('');
      setSome([]);
      return Promise.all(['roles', 'people'].map((k) => queries.invalidateQueries({ queryKey: [k] })));
    },
  });
  return (
    <Panel title={was ? t.roles.changing(was.key) : t.roles.make}>
      <Problem error={save.error} />
      <Box sx={{ display: 'grid', gap: 2 }}>
        <Box sx={line}>
          <TextField
            size="small"
            label={t.roles.key}
            value={key}
            disabled={Boolean(was)}
            onChange={(e) => setKey(e.target.value)}
          />
          <TextField
            size="small"
            label={t.roles.shown}
            value={name}
            autoFocus={Boolean(was)}
            onChange={(e) => setName(e.target.value)}
          />
        </Box>
        <Box component="fieldset" sx={{ border: 0, p: 0, m: 0 }}>
          <FormLabel component="legend">{t.roles.gives}</FormLabel>
          <FormGroup>
            {(every.data ?? []).map((r) => (
              <FormControlLabel
                key={r.right}
                label={`${r.right}: ${r.words}`}
                control={
                  <Checkbox
                    size="small"
                    checked={some.includes(r.right)}
                    onChange={(e) => setSome(e.target.checked ? [...some, r.right] : some.filter((x) => x !== r.right))}
                  />
                }
              />
            ))}
          </FormGroup>
        </Box>
        {was && <Hint>{t.roles.everybody}</Hint>}
        <Box sx={line}>
          <Act
            kind="outlined"
            why={may ?? (key && some.length > 0 ? undefined : t.roles.missing)}
            busy={save.isPending}
            onClick={() => save.mutate()}
          >
            {t.roles.save}
          </Act>
          {was && <Button onClick={onDone}>{t.roles.stop}</Button>}
        </Box>
      </Box>
    </Panel>
  );
}
