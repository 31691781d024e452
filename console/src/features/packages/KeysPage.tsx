import { Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { keys } from '../../shared/data/lists';
import { useMissing } from '../../shared/data/rights';
import { Changes } from '../../shared/ui/Changes';
import { Act, Empty, Facts, Go, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { t } from './texts';

const group = {
  display: 'flex',
  flexWrap: 'wrap',
  gap: 1.5,
  alignItems: 'center',
  border: 0,
  p: 0,
  m: 0,
  minWidth: 0,
  '& legend': { fontWeight: 600, mb: 1 },
};

/** Whose packages are taken. */
export default function KeysPage() {
  return (
    <>
      <PageTitle title={t.keys} note={t.keysNote} />
      <SetupParts />
      <Keys />
    </>
  );
}

/** One key, and who trusted or revoked it. */
export function KeyPage() {
  const { id = '' } = useParams();
  const all = useQuery(keys());
  const k = all.data?.find((x) => x.id === id);
  return (
    <>
      <PageTitle title={t.oneKey(k?.name ?? id.slice(0, 12))} />
      <SetupParts />
      <Problem error={all.error ?? (all.data && !k ? t.noKey(id.slice(0, 12)) : undefined)} />
      {all.isPending && <Loading what={t.keys} />}
      {k && (
        <Panel>
          <Facts
            list={[
              [
                t.keyHeads[0] ?? '',
                <code key="id" style={{ overflowWrap: 'anywhere' }}>
                  {k.id}
                </code>,
              ],
              [t.keyHeads[2] ?? '', k.own ? t.own : t.others],
              [
                t.keyHeads[3] ?? '',
                k.trusted ? (
                  t.page.trusted
                ) : (
                  <span key="r">
                    {t.page.revoked} <Time at={k.revokedAt} />: {k.because}
                  </span>
                ),
              ],
              [
                t.publicKey,
                <code key="k" style={{ overflowWrap: 'anywhere' }}>
                  {k.key}
                </code>,
              ],
            ]}
          />
        </Panel>
      )}
      <Changes of={`key/${id}`} />
    </>
  );
}

/** The keys that sign packages here, and those of others that are trusted. */
function Keys() {
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [whose, setWhose] = useState('');
  const [key, setKey] = useState('');
  const may = useMissing('administer', '*', '*');
  const all = useQuery(keys());
  const after = { onSuccess: () => queries.invalidateQueries({ queryKey: ['keys'] }) };
  const make = useMutation({ mutationFn: () => unwrap(client.POST('/api/v1/keys', { body: { name } })), ...after });
  const trust = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/keys/trust', { body: { name: whose, key } })),
    ...after,
  });
  return (
    <Panel title={t.keys}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.keysHint}
      </Typography>
      <Problem error={all.error ?? make.error ?? trust.error} />
      {all.data &&
        (all.data.length === 0 ? (
          <Empty>{t.noKeys}</Empty>
        ) : (
          <Rows label={t.keys} heads={t.keyHeads}>
            {all.data.map((k) => (
              <Key key={k.id} k={k} />
            ))}
          </Rows>
        ))}
      <Box
        sx={{
          mt: 2,
          display: 'grid',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' },
          gap: 3,
        }}
      >
        <Box component="fieldset" sx={group}>
          <legend>{t.ownKey}</legend>
          <TextField size="small" label={t.keyName} value={name} onChange={(e) => setName(e.target.value)} />
          <Act
            kind="outlined"
            why={may ?? (name ? undefined : t.name)}
            busy={make.isPending}
            onClick={() => make.mutate()}
          >
            {t.newKey}
          </Act>
        </Box>
        <Box component="fieldset" sx={group}>
          <legend>{t.otherKey}</legend>
          <TextField size="small" label={t.whose} value={whose} onChange={(e) => setWhose(e.target.value)} />
          <TextField
            size="small"
            label={t.publicKey}
            value={key}
            onChange={(e) => setKey(e.target.value)}
            sx={{ flex: '1 1 220px' }}
          />
          <Act
            kind="outlined"
            why={may ?? (whose && key ? undefined : t.nameAndKey)}
            busy={trust.isPending}
            onClick={() => trust.mutate()}
          >
            {t.trust}
          </Act>
        </Box>
      </Box>
    </Panel>
  );
}

function Key({ k }: { k: Schemas['KeyView'] }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const may = useMissing('administer', '*', '*');
  const revoke = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/keys/revoke', { body: { id: k.id, reason } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['keys'] }),
  });
  return (
    <tr>
      <td>
        <Go to={`/setup/keys/${k.id}`}>
          <code>{k.id.slice(0, 12)}</code>
        </Go>
      </td>
      <td>{k.name}</td>
      <td>{k.own ? t.own : t.others}</td>
      <td>
        {k.trusted ? (
          t.page.trusted
        ) : (
          <>
            {t.page.revoked} <Time at={k.revokedAt} />: {k.because}
          </>
        )}
      </td>
      <td>
        <Problem error={revoke.error} />
        {k.trusted && (
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
            <TextField
              size="small"
              label={t.reason}
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              sx={{ width: 160 }}
            />
            <Act
              kind="outlined"
              why={may ?? (reason ? undefined : t.sayWhy)}
              busy={revoke.isPending}
              onClick={() => revoke.mutate()}
            >
              {t.revoke(k.name)}
            </Act>
          </Box>
        )}
      </td>
    </tr>
  );
}
