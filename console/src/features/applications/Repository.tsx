import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Facts, Loading, Panel, Problem } from '../../shared/ui/parts';
import { t } from './texts';

/** Where the application's documents are kept, and what a new tag becomes. */
export function Repository({ application }: { application: string }) {
  const q = useQuery({
    queryKey: ['repository', application],
    queryFn: () =>
      unwrap(client.GET('/api/v1/applications/{key}/repository', { params: { path: { key: application } } })),
  });
  return (
    <Panel title={t.repositoryTitle}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.repositoryHint}
      </Typography>
      <Problem error={q.error} />
      {!q.data ? (
        !q.error && <Loading what={t.repository.theRepository} />
      ) : (
        <Change key={JSON.stringify(q.data)} application={application} old={q.data} />
      )}
    </Panel>
  );
}

function Change({ application, old }: { application: string; old: Schemas['RepositoryView'] }) {
  const queries = useQueryClient();
  const [r, set] = useState({
    address: old.address,
    folder: old.folder ?? '',
    branch: old.branch ?? '',
    account: old.account ?? '',
    secret: '',
    tagPrefix: old.tagPrefix ?? 'v',
    signedIn: old.signedIn ?? '',
  });
  const [follow, setFollow] = useState(old.follow ?? 'nothing');
  const may = useMissing('administer', '*', application);
  const path = { key: application };
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        client.PUT('/api/v1/applications/{key}/repository', {
          params: { path },
          body: { ...r, follow, secret: r.secret || undefined, revision: old.revision },
        }),
      ),
    onSuccess: () =>
      Promise.all(['repository', 'applications'].map((k) => queries.invalidateQueries({ queryKey: [k] }))),
  });
  const hook = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/applications/{key}/hook', { params: { path } })),
  });
  const [sure, setSure] = useState(false);
  const remove = useMutation({
    mutationFn: () => unwrap(client.DELETE('/api/v1/applications/{key}/repository', { params: { path } })),
    onSuccess: () =>
      Promise.all(['repository', 'applications'].map((k) => queries.invalidateQueries({ queryKey: [k] }))),
  });
  const text = (k: keyof typeof r, width = 180) => (
    <TextField
      size="small"
      label={t.repositoryLabel[k]}
      type={k === 'secret' ? 'password' : undefined}
      autoComplete={k === 'secret' ? 'new-password' : 'off'}
      value={r[k]}
      onChange={(e) => set({ ...r, [k]: e.target.value })}
      sx={{ width, maxWidth: '100%' }}
    />
  );
  return (
    <>
      <Problem error={save.error ?? hook.error ?? remove.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
        {text('address', 380)}
        {text('folder')}
        {text('branch', 130)}
        {r.address.startsWith('https://') && (
          <>
            {text('account')}
            {text('secret', 260)}
          </>
        )}
        <TextField
          select
          size="small"
          label={t.newTag}
          value={follow}
          onChange={(e) => setFollow(e.target.value)}
          sx={{ width: 180 }}
        >
          {Object.entries(t.become).map(([k, v]) => (
            <MenuItem key={k} value={k}>
              {v}
            </MenuItem>
          ))}
        </TextField>
        {follow !== 'nothing' && text('tagPrefix', 200)}
        {text('signedIn', 220)}
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        <Act
          kind="outlined"
          why={may ?? (r.address ? undefined : t.needAddress)}
          busy={save.isPending}
          onClick={() => save.mutate()}
        >
          {t.saveRepository}
        </Act>
        {old.address && (
          <Act kind="outlined" why={may} busy={hook.isPending} onClick={() => hook.mutate()}>
            {t.makeHook}
          </Act>
        )}
        {old.address && (
          <Act
            kind="outlined"
            fault={sure}
            why={may}
            busy={remove.isPending}
            onClick={() => (sure ? remove.mutate() : setSure(true))}
          >
            {sure ? t.repository.removeReally : t.repository.remove}
          </Act>
        )}
      </Box>
      {sure && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          {t.repository.removeMeans}
        </Typography>
      )}
      {hook.data && (
        <Box role="status" sx={{ mt: 1.5 }}>
          <Facts
            list={[
              [
                t.repository.address,
                <code key="a" style={{ overflowWrap: 'anywhere' }}>
                  {location.origin + hook.data.path}
                </code>,
              ],
              [
                t.repository.secret,
                <code key="s" style={{ overflowWrap: 'anywhere' }}>
                  {hook.data.secret}
                </code>,
              ],
            ]}
          />
          <Typography variant="body2" color="textSecondary">
            {t.hookTold}
          </Typography>
        </Box>
      )}
    </>
  );
}
