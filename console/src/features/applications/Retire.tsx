import { Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { asSeen, client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Loading, Problem } from '../../shared/ui/parts';
import { t } from './texts';

/** Taking an application out of use: what must be over first, what stays, and that it is final. */
export function Retire({ app }: { app: Schemas['ApplicationView'] }) {
  const [open, setOpen] = useState(false);
  if (app.retired) return null;
  return (
    <Box component="details" sx={{ mt: 1.5 }} onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1.5 }}>
        {t.retire.title}
      </Box>
      {open && <Asked app={app} />}
    </Box>
  );
}

function Asked({ app }: { app: Schemas['ApplicationView'] }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [reason, setReason] = useState('');
  const [confirm, setConfirm] = useState('');
  const may = useMissing('administer', '*', app.key);
  const cost = useQuery({
    queryKey: ['retiring', app.key],
    queryFn: () => unwrap(client.GET('/api/v1/applications/{key}/retire', { params: { path: { key: app.key } } })),
    staleTime: 0,
  });
  const retire = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/applications/{key}/retire', {
          params: { path: { key: app.key } },
          body: { reason, confirm },
          ...asSeen(app.revision),
        }),
      ),
    onSuccess: async () => {
      await Promise.all(['applications', 'standing'].map((k) => queries.invalidateQueries({ queryKey: [k] })));
      void navigate('/standing');
    },
  });
  if (!cost.data) return cost.error ? <Problem error={cost.error} /> : <Loading what={t.retire.cost} />;
  const c = cost.data;
  const why =
    may ??
    (c.open.length > 0
      ? t.retire.open(c.open.join(', '))
      : !reason
        ? t.retire.sayWhy
        : confirm !== app.key
          ? t.retire.type(app.key)
          : undefined);
  return (
    <>
      <Problem error={retire.error} />
      <Typography sx={{ maxWidth: '72ch' }}>{t.retire.means(c.versions)}</Typography>
      <ul style={{ margin: '4px 0 12px', paddingLeft: 18 }}>
        {c.holds.map((h) => (
          <li key={h.site}>{t.retire.keeps(h.site, app.key, h.version)}</li>
        ))}
      </ul>
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, alignItems: 'flex-start' }}>
        <TextField
          size="small"
          label={t.retire.why}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: '100%', maxWidth: 560 }}
        />
        <TextField
          size="small"
          label={t.retire.confirm(app.key)}
          value={confirm}
          onChange={(e) => setConfirm(e.target.value)}
          sx={{ width: 340, maxWidth: '100%' }}
        />
        <Act fault why={why} busy={retire.isPending} onClick={() => retire.mutate()}>
          {t.retire.act(app.name)}
        </Act>
      </Box>
    </>
  );
}
