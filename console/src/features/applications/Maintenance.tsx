import { Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { plural } from '../../shared/time';
import { Act, Loading, Problem, Rows } from '../../shared/ui/parts';
import { t } from './texts';

/** What goes on in a site's host, and letting only operators in or everybody again; asked for when it is opened. */
export function Maintenance({ application, site }: { application: string; site: string }) {
  const [open, setOpen] = useState(false);
  return (
    <Box component="details" sx={{ mt: 1.5 }} onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1.5 }}>
        {t.work.title}
      </Box>
      {open && <Work application={application} at={site} />}
    </Box>
  );
}

function Work({ application, at }: { application: string; at: string }) {
  const [stage = '', site = ''] = at.split('/');
  const path = { stage, site };
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const may = useMissing('operate', stage, application);
  const work = useQuery({
    queryKey: ['work', at],
    queryFn: () => unwrap(client.GET('/api/v1/sites/{stage}/{site}/work', { params: { path } })),
    refetchInterval: 10_000,
    retry: false,
  });
  const change = useMutation({
    mutationFn: (on: boolean) =>
      unwrap(client.POST('/api/v1/sites/{stage}/{site}/maintenance', { params: { path }, body: { on, reason } })),
    onSuccess: () => {
      setReason('');
      return Promise.all(['work', 'standing'].map((k) => queries.invalidateQueries({ queryKey: [k] })));
    },
  });
  if (!work.data) return work.error ? <Problem error={work.error} /> : <Loading what={t.work.what(at)} />;
  const w = work.data;
  return (
    <>
      <Problem error={work.error ?? change.error} />
      <Typography>
        {w.maintenance ? t.work.closed(at) : t.work.open(at)} {t.work.people(plural(w.people, 'person', 'people'))}
      </Typography>
      {w.running.length > 0 && (
        <Rows label={t.work.running} heads={t.work.heads}>
          {w.running.map((i) => (
            <tr key={i.id}>
              <td>{i.what}</td>
              <td>{i.person}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{i.component}</td>
            </tr>
          ))}
        </Rows>
      )}
      {w.others > 0 && <Typography variant="body2">{t.work.others(w.others)}</Typography>}
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        {w.maintenance ? t.work.opening : t.work.closing}
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 1 }}>
        <TextField
          size="small"
          label={t.work.why}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: '100%', maxWidth: 360 }}
        />
        <Act
          kind="outlined"
          fault={!w.maintenance}
          why={may ?? (reason ? undefined : t.work.sayWhy)}
          busy={change.isPending}
          onClick={() => change.mutate(!w.maintenance)}
        >
          {w.maintenance ? t.work.letIn(at) : t.work.close(at)}
        </Act>
      </Box>
    </>
  );
}
