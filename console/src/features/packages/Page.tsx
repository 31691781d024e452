import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { counted, plural } from '../../shared/time';
import { Act, Download, Facts, Go, Loading, PageTitle, Panel, Problem, State, Time } from '../../shared/ui/parts';
import { Underway } from '../../shared/ui/Underway';
import { t } from './texts';
import { asked, useFilters } from '../../shared/data/filters';
import { pages, paths } from '../../shared/data/lists';
import { ByApplication, Listing } from '../../shared/ui/Listing';

/** As many components as a package names on the page. */
const SHOWN = 100;

type Parcel = Schemas['PackageView'];

/** Versions as files and the keys that sign them; what a file holds is shown before anything happens. */
export default function PackagesPage() {
  const filters = useFilters({ application: '' });
  const all = useInfiniteQuery(
    pages(['packages', 'list', filters.values, filters.size], (cursor) =>
      unwrap(
        client.GET('/api/v1/packages', {
          params: { query: { ...asked(filters.values), cursor, limit: filters.size } },
        }),
      ),
    ),
  );
  return (
    <>
      <PageTitle title={t.title} note={t.note}>
        <Go to="/setup/keys">{t.keysThatSign}</Go>
        <ByApplication of={filters} />
      </PageTitle>
      <Panel>
        <Listing of={all} filters={filters} label={t.title} heads={t.heads} none={t.none}>
          {(p) => <Line key={p.id} p={p} />}
        </Listing>
      </Panel>
      <Receive />
    </>
  );
}

function Line({ p }: { p: Parcel }) {
  const [open, setOpen] = useState(false);
  const may = useMissing('hand-out', '?', p.application);
  return (
    <>
      <tr>
        <td>{p.id}</td>
        <td>
          {p.state === 'received' ? (
            `${p.application} ${p.number}`
          ) : (
            <Go to={`/versions/${p.application}/${p.number}`}>
              {p.application} {p.number}
            </Go>
          )}
        </td>
        <td>
          <State word={p.state} />
          {p.problem && <div>{p.problem}</div>}
          {p.missing && <div>{p.missing}</div>}
          {p.before.length > 0 && (
            <Typography variant="caption" component="div" color="textSecondary">
              {t.before(p.before)}
            </Typography>
          )}
        </td>
        <td>
          <code>{p.signer.slice(0, 12)}</code> {p.signerName}
        </td>
        <td style={{ overflowWrap: 'anywhere' }}>
          {may ? p.name : <Download href={`/api/v1/packages/${p.id}/file`}>{p.name}</Download>}
          <Typography variant="caption" component="div" color="textSecondary">
            {plural(p.size, 'byte', 'bytes')}
          </Typography>
        </td>
        <td>
          {p.handedOutAt && (
            <>
              <Time at={p.handedOutAt} /> {t.page.by} {p.handedOutBy}
            </>
          )}
        </td>
        <td>
          <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
            {t.look}
          </Button>
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={7}>
            <Contents p={p} />
          </td>
        </tr>
      )}
    </>
  );
}

function Contents({ p }: { p: Parcel }) {
  const queries = useQueryClient();
  const [path, setPath] = useState('');
  const holds = useQuery({
    queryKey: ['packages', p.id, 'contents'],
    queryFn: () => unwrap(client.GET('/api/v1/packages/{id}/contents', { params: { path: { id: p.id } } })),
  });
  const legs = useQuery({ ...paths(), enabled: p.state === 'received' });
  const may = useMissing('bring-in', '?', p.application);
  const after = {
    onSuccess: () =>
      Promise.all(['packages', 'versions', 'applications'].map((k) => queries.invalidateQueries({ queryKey: [k] }))),
  };
  const bring = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/packages/{id}/bring-in', {
          params: { path: { id: p.id } },
          body: { path: path || undefined },
        }),
      ),
    ...after,
  });
  const drop = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/packages/{id}/drop', { params: { path: { id: p.id } } })),
    ...after,
  });
  const c = holds.data;
  return (
    <Box sx={{ p: 1 }}>
      <Problem error={holds.error ?? bring.error ?? drop.error} />
      {!c ? (
        !holds.error && <Loading what={p.name} />
      ) : (
        <Facts
          list={[
            [t.page.title, c.title],
            [t.page.notes, c.notes],
            [
              t.page.sealed,
              <span key="s">
                <Time at={c.sealedAt} />
                {t.page.byAuthor(c.author)}
              </span>,
            ],
            [t.page.draftedFrom, c.parent],
            [t.page.source, p.source],
            [t.page.holds, `${counted(c.kinds)}; ${plural(c.bytes, 'byte', 'bytes')}`],
            [t.page.digest, <code key="d">{c.digest.slice(0, 12)}</code>],
            [
              t.page.components,
              <span key="c" style={{ overflowWrap: 'anywhere' }}>
                {c.components.slice(0, SHOWN).join(', ')}
                {t.andMore(
                  Object.values(c.kinds).reduce((sum, n) => sum + n, 0) - Math.min(SHOWN, c.components.length),
                )}
              </span>,
            ],
            [t.page.takesAway, c.removals.join(', ')],
          ]}
        />
      )}
      {p.state === 'received' && c && (
        <Box sx={{ mt: 2, display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
          {!c.applicationKnown && (
            <TextField
              select
              size="small"
              label={t.path}
              value={path}
              onChange={(e) => setPath(e.target.value)}
              sx={{ minWidth: 180 }}
            >
              {(legs.data ?? []).map((x) => (
                <MenuItem key={x.key} value={x.key}>
                  {x.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Underway
            about={`package/${p.id}`}
            busy={bring.isPending}
            touched={['packages', 'versions', 'applications']}
          />
          <Act why={may ?? (p.problem || p.missing || undefined)} busy={bring.isPending} onClick={() => bring.mutate()}>
            {t.bringIn(p.id)}
          </Act>
          <Act kind="outlined" why={may} busy={drop.isPending} onClick={() => drop.mutate()}>
            {t.drop(p.id)}
          </Act>
        </Box>
      )}
    </Box>
  );
}

function Receive() {
  const queries = useQueryClient();
  const [file, setFile] = useState<File>();
  const chooser = useRef<HTMLInputElement>(null);
  const may = useMissing('bring-in', '?', '?');
  const send = useMutation({
    mutationFn: (f: File) =>
      unwrap(
        client.PUT('/api/v1/packages/received', {
          params: { query: { name: f.name } },
          headers: { 'Content-Type': 'application/zip' },
          body: f as never,
          bodySerializer: (b) => b as never,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['packages'] }),
  });
  return (
    <Panel title={t.receive}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.receiveHint}
      </Typography>
      <Problem error={send.error} />
      <Underway about="packages" busy={send.isPending} touched={['packages']} />
      {send.data && (
        <Typography role="status" sx={{ mb: 1 }}>
          {send.data.id}: {send.data.application} {send.data.number}. {send.data.problem}
        </Typography>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Button variant="outlined" onClick={() => chooser.current?.click()}>
          {t.choose}
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".zip,application/zip"
          hidden
          onChange={(e) => setFile(e.target.files?.[0])}
        />
        <Act
          kind="outlined"
          why={may ?? (file ? undefined : t.notChosen)}
          busy={send.isPending}
          onClick={() => file && send.mutate(file)}
        >
          {file ? t.chosen(file.name) : t.receive}
        </Act>
      </Box>
    </Panel>
  );
}
