import { Box, Button, TextField } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Changes } from '../../shared/ui/Changes';
import { Choice } from '../../shared/ui/Choice';
import { SetupParts } from '../../shared/ui/SetupParts';
import { Act, Empty, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { standing } from './ListPage';
import { Blank } from './Blank';
import { Deputies } from './Deputies';
import { Keys } from './Keys';
import { at, EVERY, flat, Hint, line, of, useAfter } from './parts';
import { t } from './texts';
import { applications, rights, roles, stages } from '../../shared/data/lists';

type Person = Schemas['PersonView'];

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
      <SetupParts />
      <Rights p={p} />
      <Deputies of={p.login} own={false} />
      <Keys login={p.login} />
      <Access p={p} />
      <Blank login={p.login} />
      <Changes of={`person/${p.login}`} />
    </>
  );
}

/** Everything that was given, one by one and by roles. */
function given(p: Person): { key: string; shown: string; stage: string; application: string; without: Person }[] {
  return [
    ...p.roles.map((h) => ({
      key: `role ${h.role} ${h.stage} ${h.application}`,
      shown: t.person.role(h.role),
      stage: h.stage,
      application: h.application,
      without: { ...p, roles: p.roles.filter((x) => x !== h) },
    })),
    ...p.grants.map((g) => ({
      key: `${g.right} ${g.stage} ${g.application}`,
      shown: g.right,
      stage: g.stage,
      application: g.application,
      without: { ...p, grants: p.grants.filter((x) => x !== g) },
    })),
  ];
}

function Rights({ p }: { p: Person }) {
  const after = useAfter();
  const [what, setWhat] = useState('');
  const [stage, setStage] = useState(EVERY);
  const [application, setApplication] = useState(EVERY);
  const places = useQuery(stages());
  const apps = useQuery(applications());
  const all = useQuery(rights());
  const named = useQuery(roles());
  const may = useMissing('administer', '?', '?');
  const save = useMutation({
    mutationFn: ({ grants, roles }: Person) =>
      unwrap(
        client.PUT('/api/v1/people/{login}/grants', {
          params: { path: { login: p.login } },
          body: { grants, roles, revision: p.revision },
        }),
      ),
    ...after,
  });
  const rows = given(p);
  const [sort, name = ''] = what.split(' ');
  const next: Person =
    sort === 'role'
      ? { ...p, roles: [...p.roles, { role: name, stage, application }] }
      : { ...p, grants: [...p.grants, { right: what, stage, application }] };
  const has = rows.some((r) => r.key === `${what} ${stage} ${application}`);
  return (
    <Panel title={t.person.rights}>
      <Problem error={save.error} />
      {rows.length === 0 ? (
        <Empty>{t.person.noRights}</Empty>
      ) : (
        <Rows label={t.person.rights} heads={t.person.rightHeads}>
          {rows.map((r) => (
            <tr key={r.key}>
              <td>{r.shown}</td>
              <td>{at(r)}</td>
              <td>{of(r)}</td>
              <td>
                <Button
                  size="small"
                  sx={flat}
                  disabled={Boolean(may) || save.isPending}
                  aria-label={t.person.take(r.shown, at(r), of(r))}
                  onClick={() => save.mutate(r.without)}
                >
                  {t.person.takeAway}
                </Button>
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Box sx={{ ...line, mt: 2 }}>
        <Choice
          label={t.person.right}
          value={what}
          onChange={setWhat}
          of={[
            ...(named.data ?? []).map((r): [string, string] => [`role ${r.key}`, t.person.role(r.key)]),
            ...(all.data ?? []).map((r): [string, string] => [r.right, r.right]),
          ]}
        />
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
          why={may ?? (what === '' ? t.person.chooseRight : has ? t.person.has : undefined)}
          busy={save.isPending}
          onClick={() => save.mutate(next)}
        >
          {t.person.give}
        </Act>
      </Box>
    </Panel>
  );
}

/** Under which addresses somebody writes in repositories. */
function WritesAs({
  p,
  change,
  why,
}: {
  p: Person;
  change: { isPending: boolean; mutate: (body: Schemas['ChangePerson']) => void };
  why?: string;
}) {
  const [text, setText] = useState(p.writesAs.join(' '));
  const writesAs = text.split(/[\s,]+/).filter(Boolean);
  const same = writesAs.join(' ') === p.writesAs.join(' ');
  return (
    <Box>
      <Hint>{t.person.writesAsHint}</Hint>
      <Box sx={line}>
        <TextField
          size="small"
          label={t.person.writesAs}
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ flex: '1 1 260px', maxWidth: 480 }}
        />
        <Act
          kind="outlined"
          why={why ?? (same ? t.person.sameAddresses : undefined)}
          busy={change.isPending}
          onClick={() => change.mutate({ writesAs })}
        >
          {t.person.say}
        </Act>
      </Box>
    </Box>
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
        <WritesAs p={p} change={change} why={may} />
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
