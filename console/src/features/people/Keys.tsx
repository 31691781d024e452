import { Button, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Empty, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { flat, useAfter } from './parts';
import { t } from './texts';

/** What a token was narrowed to. */
function only(n: Schemas['Only']): string {
  return [...n.rights, ...n.stages.map(t.person.at), ...n.applications.map(t.person.of)].join(' ');
}

/** Where somebody is signed in, and their tokens, each with an end. */
export function Keys({ login }: { login: string }) {
  const after = useAfter();
  const all = useQuery({
    queryKey: ['people', login, 'keys'],
    queryFn: () => unwrap(client.GET('/api/v1/people/{login}/keys', { params: { path: { login } } })),
  });
  const end = useMutation({
    mutationFn: (id: string) =>
      unwrap(client.DELETE('/api/v1/people/{login}/keys/{id}', { params: { path: { login, id } } })),
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
                <td style={{ overflowWrap: 'anywhere' }}>
                  {what} {k.token ? k.label : <code>{k.id}</code>}
                  {k.only && (
                    <Typography variant="caption" component="div" color="textSecondary">
                      {t.person.only(only(k.only))}
                    </Typography>
                  )}
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
