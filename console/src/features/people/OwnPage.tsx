import { Box, TextField } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { Following } from '../../shared/news/Following';
import { Act, Empty, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { Deputies } from './Deputies';
import { Keys } from './Keys';
import { NewToken } from './NewToken';
import { at, Hint, line, of } from './parts';
import { t } from './texts';

/** What somebody may, where they are signed in, their tokens and their password. */
export default function OwnPage() {
  const session = useQuery({ queryKey: ['session'], queryFn: () => unwrap(client.GET('/api/v1/session')) });
  const me = session.data;
  if (!me) return session.error ? <Problem error={session.error} /> : <Loading what={t.person.loading} />;
  return (
    <>
      <PageTitle title={t.own.title(me.name)} note={t.own.note(me.login)} />
      <Panel title={t.own.rights}>
        {me.grants.length === 0 ? (
          <Empty>{t.own.none}</Empty>
        ) : (
          <Rows label={t.own.rights} heads={t.own.heads}>
            {me.grants.map((g) => (
              <tr key={`${g.right} ${g.stage} ${g.application}`}>
                <td>{g.right}</td>
                <td>{at(g)}</td>
                <td>{of(g)}</td>
              </tr>
            ))}
          </Rows>
        )}
      </Panel>
      <Following />
      <Deputies of={me.login} own />
      <Keys login={me.login} />
      <NewToken />
      <Password />
    </>
  );
}

function Password() {
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  const change = useMutation({
    mutationFn: () => unwrap(client.PUT('/api/v1/session/password', { body: { old, password: fresh } })),
    onSuccess: () => {
      setOld('');
      setFresh('');
    },
  });
  return (
    <Panel title={t.own.password}>
      <Hint>{t.own.passwordHint}</Hint>
      <Problem error={change.error} />
      <Box sx={line}>
        <TextField
          size="small"
          type="password"
          autoComplete="current-password"
          label={t.own.present}
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
        <TextField
          size="small"
          type="password"
          autoComplete="new-password"
          label={t.own.fresh}
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
        />
        <Act
          kind="outlined"
          why={old === '' || fresh === '' ? t.own.needs : fresh.length < 10 ? t.person.tooShort : undefined}
          busy={change.isPending}
          onClick={() => change.mutate()}
        >
          {t.own.change}
        </Act>
        {change.isSuccess && <Box role="status">{t.own.changed}</Box>}
      </Box>
    </Panel>
  );
}
