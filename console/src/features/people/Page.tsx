import { Box, Button, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Choice } from '../../shared/ui/Choice';
import { Act, Empty, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { standing } from './ListPage';
import { rights, t } from './texts';
import { applications, stages } from '../../shared/data/lists';

type Person = Schemas['PersonView'];
type Grant = Schemas['Grant'];

const line = { display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' };
/** On the line of the text beside it. */
const flat = { my: -1 };
const EVERY = '*';
const at = (g: Grant) => (g.stage === EVERY ? t.person.everyStage : g.stage);
const of = (g: Grant) => (g.application === EVERY ? t.person.everyApplication : g.application);

/** One person: rights, where they are signed in, password, access. */
export default function PersonPage() {
  const { login = '' } = useParams();
  const person = useQuery({
    queryKey: ['people', login],
    queryFn: () => unwrap(client.GET('/api/v1/people/{login}', { params: { path: { login } } })),
  });
  const p = person.data;
  if (!p) return person.error ? <Problem error={person.error} /> : <Loading what={t.person.loading} />;
  const word = standing(p);
  return (
    <>
      <PageTitle title={p.name} note={t.person.name(p.login) + (word && ` · ${word}`)} />
      <Rights p={p} />
      <Keys p={p} />
      <Access p={p} />
    </>
  );
}

/** Everything of a person is asked anew after an act. */
function useAfter() {
  const queries = useQueryClient();
  return { onSuccess: () => queries.invalidateQueries({ queryKey: ['people'] }) };
}

function Rights({ p }: { p: Person }) {
  const after = useAfter();
  const [right, setRight] = useState('');
  const [stage, setStage] = useState(EVERY);
  const [application, setApplication] = useState(EVERY);
  const places = useQuery(stages());
  const apps = useQuery(applications());
  const may = useMissing('administer', '?', '?');
  const save = useMutation({
    mutationFn: (grants: Grant[]) =>
      unwrap(
        client.PUT('/api/v1/people/{login}/grants', {
          params: { path: { login: p.login } },
          body: { grants, revision: p.revision },
        }),
      ),
    ...after,
  });
  const next = { right, stage, application };
  const has = p.grants.some((g) => g.right === right && g.stage === stage && g.application === application);
  return (
    <Panel title={t.person.rights}>
      <Problem error={save.error} />
      {p.grants.length === 0 ? (
        <Empty>{t.person.noRights}</Empty>
      ) : (
        <Rows label={t.person.rights} heads={t.person.rightHeads}>
          {p.grants.map((g) => (
            <tr key={`${g.right} ${g.stage} ${g.application}`}>
              <td>{g.right}</td>
              <td>{at(g)}</td>
              <td>{of(g)}</td>
              <td>
                <Button
                  size="small"
                  sx={flat}
                  disabled={Boolean(may) || save.isPending}
                  aria-label={t.person.take(g.right, at(g), of(g))}
                  onClick={() => save.mutate(p.grants.filter((x) => x !== g))}
                >
                  {t.person.takeAway}
                </Button>
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Box sx={{ ...line, mt: 2 }}>
        <Choice label={t.person.right} value={right} onChange={setRight} of={rights.map((r) => [r, r])} />
        <Choice
          label={t.person.stage}
          value={stage}
          onChange={setStage}
          of={[[EVERY, t.person.everyStage], ...(places.data ?? []).map((s): [string, string] => [s.key, s.name])]}
        />
        <Choice
          label={t.person.application}
          value={application}
          onChange={setApplication}
          of={[[EVERY, t.person.everyApplication], ...(apps.data ?? []).map((a): [string, string] => [a.key, a.key])]}
        />
        <Act
          kind="outlined"
          why={may ?? (right === '' ? t.person.chooseRight : has ? t.person.has : undefined)}
          busy={save.isPending}
          onClick={() => save.mutate([...p.grants, next])}
        >
          {t.person.give}
        </Act>
      </Box>
    </Panel>
  );
}

function Keys({ p }: { p: Person }) {
  const after = useAfter();
  const all = useQuery({
    queryKey: ['people', p.login, 'keys'],
    queryFn: () => unwrap(client.GET('/api/v1/people/{login}/keys', { params: { path: { login: p.login } } })),
  });
  const end = useMutation({
    mutationFn: (id: string) =>
      unwrap(client.DELETE('/api/v1/people/{login}/keys/{id}', { params: { path: { login: p.login, id } } })),
    ...after,
  });
  return (
    <Panel title={t.person.signedIn}>
      <Problem error={all.error ?? end.error} />
      {all.data?.length === 0 && <Empty>{t.person.noKeys}</Empty>}
      {all.data && all.data.length > 0 && (
        <Rows label={t.person.signedIn} heads={t.person.keyHeads}>
          {all.data.map((k) => {
            const what = k.token ? t.person.token : t.person.session;
            return (
              <tr key={k.id}>
                <td>
                  {what} {k.token ? k.label : <code>{k.id}</code>}
                </td>
                <td>
                  <Time at={k.createdAt} />
                </td>
                <td>
                  <Time at={k.expiresAt} />
                </td>
                <td>
                  <Button
                    size="small"
                    sx={flat}
                    aria-label={t.person.endLabel(what, k.token ? k.label : k.id)}
                    disabled={end.isPending}
                    onClick={() => end.mutate(k.id)}
                  >
                    {t.person.end}
                  </Button>
                </td>
              </tr>
            );
          })}
        </Rows>
      )}
    </Panel>
  );
}

function Access({ p }: { p: Person }) {
  const after = useAfter();
  const [name, setName] = useState(p.name);
  const [password, setPassword] = useState('');
  const may = useMissing('administer', '*', '*');
  const path = { params: { path: { login: p.login } } };
  const change = useMutation({
    mutationFn: (body: Schemas['ChangePerson']) => unwrap(client.PUT('/api/v1/people/{login}', { ...path, body })),
    ...after,
  });
  const reset = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/people/{login}/password', { ...path, body: { password } })),
    onSuccess: () => {
      setPassword('');
      return after.onSuccess();
    },
  });
  return (
    <Panel title={t.person.access}>
      <Problem error={change.error ?? reset.error} />
      <Box sx={{ display: 'grid', gap: 3 }}>
        <Box sx={line}>
          <TextField size="small" label={t.person.shown} value={name} onChange={(e) => setName(e.target.value)} />
          <Act
            kind="outlined"
            why={may ?? (name.trim() === p.name ? t.person.same : undefined)}
            busy={change.isPending}
            onClick={() => change.mutate({ name: name.trim() })}
          >
            {t.person.change}
          </Act>
        </Box>
        <Box>
          <Hint>{t.person.passwordHint}</Hint>
          <Box sx={line}>
            <TextField
              size="small"
              type="password"
              autoComplete="new-password"
              label={t.person.fresh}
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
            <Act
              kind="outlined"
              why={may ?? (password.length < 10 ? t.person.tooShort : undefined)}
              busy={reset.isPending}
              onClick={() => reset.mutate()}
            >
              {t.person.reset}
            </Act>
          </Box>
        </Box>
        <Box>
          <Hint>{t.person.disableHint}</Hint>
          <Act
            kind="outlined"
            why={may}
            busy={change.isPending}
            onClick={() => change.mutate({ disabled: !p.disabled })}
          >
            {p.disabled ? t.person.enable(p.login) : t.person.disable(p.login)}
          </Act>
        </Box>
      </Box>
    </Panel>
  );
}

function Hint({ children }: { children: string }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
      {children}
    </Typography>
  );
}
