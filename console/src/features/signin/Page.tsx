import { Box, Button, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, useCsrf as setCsrf, type Schemas } from '../../shared/data/api';
import { Problem } from '../../shared/ui/parts';
import { t } from './texts';

/** Sign-in, and the change of a first password. The address stays, so that the person lands where they were going. */
export default function SignInPage({ change }: { change?: Schemas['Me'] }) {
  const queries = useQueryClient();
  const [login, setLogin] = useState('');
  const [password, setPassword] = useState('');
  const [fresh, setFresh] = useState('');
  const signIn = useMutation({
    mutationFn: async () => {
      if (change) {
        setCsrf(change.csrf ?? '');
        await unwrap(client.PUT('/api/v1/session/password', { body: { old: password, password: fresh } }));
        return;
      }
      const me = await unwrap(client.POST('/api/v1/session', { body: { login, password } }));
      setCsrf(me.csrf ?? '');
    },
    onSuccess: () => queries.resetQueries({ queryKey: ['session'] }),
  });
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 2 }}>
      <Box
        component="form"
        sx={{ width: '100%', maxWidth: 360, display: 'grid', gap: 2 }}
        onSubmit={(e) => {
          e.preventDefault();
          signIn.mutate();
        }}
      >
        <Typography variant="h1">{change ? t.page.chooseAPassword : t.page.signInToPlenzo}</Typography>
        <Problem error={signIn.error} />
        {!change && (
          <TextField
            label={t.page.name}
            value={login}
            onChange={(e) => setLogin(e.target.value)}
            autoComplete="username"
            required
            autoFocus
          />
        )}
        <TextField
          label={change ? t.page.presentPassword : t.page.password}
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="current-password"
          required
        />
        {change && (
          <TextField
            label={t.page.newPassword10CharactersOr}
            type="password"
            value={fresh}
            onChange={(e) => setFresh(e.target.value)}
            autoComplete="new-password"
            required
          />
        )}
        <Button type="submit" variant="contained" loading={signIn.isPending}>
          {change ? t.page.changeThePassword : t.page.signIn}
        </Button>
      </Box>
    </Box>
  );
}
