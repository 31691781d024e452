import { Box, Button, MenuItem, TextField, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Empty, Facts, Go, Loading, PageTitle, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { versions } from '../../shared/data/lists';
import { components } from './api';
import { ByHandStep } from '../../shared/ui/ByHand';
import { Underway } from '../../shared/ui/Underway';
import { t } from './texts';

/** A sealed version: what it holds, where it came from, where it is. */
export default function VersionPage() {
  const { application = '', number = '' } = useParams();
  const all = useQuery(versions(application));
  const navigate = useNavigate();
  if (all.error) return <Problem error={all.error} />;
  if (!all.data) return <Loading what={`${application} ${number}`} />;
  const v = all.data.find((x) => x.number === number);
  if (!v && all.isFetching) return <Loading what={`${application} ${number}`} />; // it was sealed a moment ago
  if (!v) return <Problem error={t.versionPage.thereIsNoVersionThat(application, number)} />;
  return (
    <>
      <PageTitle
        title={t.version(application, number)}
        note={
          <>
            {t.sealed(v.author)} · <Go to={`/applications/${application}`}>{application}</Go>
          </>
        }
      >
        {v.withdrawn && <State word="withdrawn" strong />}
      </PageTitle>
      <Panel>
        <Facts
          list={[
            [t.facts.title, v.title],
            [t.facts.notes, v.notes],
            [t.facts.parent, v.parent ?? t.facts.adopted],
            [t.facts.source, v.source],
            [
              t.facts.carries,
              v.coverage.length === 0 ? (
                t.facts.coverageNotKnown
              ) : (
                <ul key="c" style={{ margin: 0, paddingLeft: 18 }}>
                  {v.coverage.map((l) => (
                    <li key={l} style={{ overflowWrap: 'anywhere' }}>
                      {l}
                    </li>
                  ))}
                </ul>
              ),
            ],
            [
              t.facts.writtenBy,
              v.writtenBy.length > 0 &&
                v.writtenBy.map((w) => t.facts.writer(w.author, w.person)).join('; ') +
                  (v.writtenWhole ? '' : t.facts.notWhole),
            ],
            [
              t.facts.digest,
              <code key="d" style={{ overflowWrap: 'anywhere' }}>
                {v.digest}
              </code>,
            ],
            [
              t.facts.at,
              v.presentAt.length === 0
                ? t.facts.nowhere
                : v.presentAt.map((p) => `${p.site}${p.verdict ? ` (judged ${p.verdict})` : ''}`).join(', '),
            ],
            [t.facts.removals, v.removals.join(', ')],
            [t.facts.needs, v.needs.join(', ')],
            [t.facts.order, v.order.join('; ')],
            [
              t.facts.tasks,
              v.tasks.length > 0 &&
                v.tasks.map((x, n) => (
                  <span key={x}>
                    {n > 0 && ', '}
                    {x.startsWith('https://') ? (
                      <a href={x} rel="noreferrer" target="_blank">
                        {x}
                      </a>
                    ) : (
                      x
                    )}
                  </span>
                )),
            ],
          ]}
        />
        {v.manual.length > 0 && (
          <Box sx={{ mt: 2 }}>
            <Typography sx={{ fontWeight: 650 }}>{t.byHand}</Typography>
            <ul style={{ margin: 0, paddingLeft: 18 }}>
              {v.manual.map((m, n) => (
                <li key={n}>
                  <ByHandStep step={m} when={m.when} />
                </li>
              ))}
            </ul>
          </Box>
        )}
        <Box sx={{ mt: 2, display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
          <TextField
            select
            size="small"
            label={t.other}
            value=""
            sx={{ minWidth: 180 }}
            onChange={(e) => navigate(`/versions/${application}/${e.target.value}/compare/${number}`)}
          >
            {all.data
              .filter((x) => x.number !== number)
              .map((x) => (
                <MenuItem key={x.number} value={x.number}>
                  {x.number}
                </MenuItem>
              ))}
          </TextField>
          {!v.withdrawn && <Promote v={v} />}
          <Draft v={v} />
          <Build v={v} />
        </Box>
      </Panel>
      <Fate application={application} number={number} />
      <Components application={application} number={number} kinds={v.kinds} />
      {!v.withdrawn && <Withdraw v={v} />}
    </>
  );
}

/** What became of it: where it came and left, how it was judged, who withdrew it and why. */
function Fate({ application, number }: { application: string; number: string }) {
  const q = useQuery({
    queryKey: ['versions', application, number, 'fate'],
    queryFn: () =>
      unwrap(client.GET('/api/v1/versions/{application}/{number}/fate', { params: { path: { application, number } } })),
  });
  if (q.error) return <Problem error={q.error} />;
  return (
    <Panel title={t.fate.title}>
      {!q.data ? (
        <Loading what={t.fate.title} />
      ) : (
        <Rows label={t.fate.title} heads={t.fate.heads}>
          {q.data.map((f, n) => (
            <tr key={n}>
              <td style={{ whiteSpace: 'nowrap' }}>
                <Time at={f.at} />
              </td>
              <td>{(t.fate.what[f.what] ?? f.what) + (f.site ? ` ${f.site}` : '')}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{f.text}</td>
              <td>{f.by}</td>
            </tr>
          ))}
        </Rows>
      )}
    </Panel>
  );
}

/** Page by page, and found by a part of the name: an application may have a hundred thousand files. */
function Components({
  application,
  number,
  kinds,
}: {
  application: string;
  number: string;
  kinds: Record<string, number>;
}) {
  const [find, setFind] = useState('');
  const all = useInfiniteQuery(components(application, number, find));
  const items = all.data?.pages.flatMap((p) => p.items) ?? [];
  const total = all.data?.pages[0]?.total ?? 0;
  return (
    <Panel title={t.holds(kinds)}>
      {(total > items.length || find !== '') && (
        <TextField
          size="small"
          label={t.find}
          value={find}
          onChange={(e) => setFind(e.target.value)}
          sx={{ mb: 1.5 }}
          slotProps={{ htmlInput: { 'data-find': true } }}
        />
      )}
      <Problem error={all.error} />
      {!all.data ? (
        <Loading what={t.versionPage.components} />
      ) : items.length === 0 ? (
        <Empty>{t.noneFound}</Empty>
      ) : (
        <Rows label={t.holds(kinds)} heads={t.entryHeads}>
          {items.map((e) => (
            <tr key={e.key}>
              <td style={{ overflowWrap: 'anywhere' }}>{e.key}</td>
              <td>{e.key.startsWith('records/') && `${e.rows.toLocaleString('en-GB')} ${e.which}`}</td>
              <td>
                <code>{e.digest.slice(0, 12)}</code>
              </td>
              <td>{e.origin}</td>
            </tr>
          ))}
        </Rows>
      )}
      {all.hasNextPage && (
        <Button
          size="small"
          variant="outlined"
          sx={{ mt: 1.5 }}
          disabled={all.isFetchingNextPage}
          onClick={() => all.fetchNextPage()}
        >
          {t.more(items.length, total)}
        </Button>
      )}
    </Panel>
  );
}

/** The way on: to where it is said which site it goes to. */
function Promote({ v }: { v: Schemas['VersionView'] }) {
  const navigate = useNavigate();
  const may = useMissing('prepare', '?', v.application);
  return (
    <Act
      kind="outlined"
      why={may}
      onClick={() => navigate(`/promotions?prepare=${encodeURIComponent(`${v.application}@${v.number}`)}`)}
    >
      {t.promote(v.number)}
    </Act>
  );
}

function Draft({ v }: { v: Schemas['VersionView'] }) {
  const navigate = useNavigate();
  const may = useMissing('author', '?', v.application);
  const start = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/drafts', { body: { application: v.application, from: v.number } })),
    onSuccess: (d) => navigate(`/drafts/${d.id}`),
  });
  return (
    <>
      <Act kind="outlined" why={may} busy={start.isPending} onClick={() => start.mutate()}>
        {t.draftFrom(v.number)}
      </Act>
      <Problem error={start.error} />
    </>
  );
}

/** The version as one signed file. */
function Build({ v }: { v: Schemas['VersionView'] }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const may = useMissing('hand-out', '?', v.application);
  const build = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/packages', { body: { application: v.application, number: v.number } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['packages'] });
      navigate('/packages');
    },
  });
  return (
    <>
      <Act kind="outlined" why={may} busy={build.isPending} onClick={() => build.mutate()}>
        {t.build}
      </Act>
      <Problem error={build.error} />
      <Underway about={`version/${v.application}@${v.number}`} busy={build.isPending} touched={['packages']} />
    </>
  );
}

function Withdraw({ v }: { v: Schemas['VersionView'] }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const may = useMissing('author', '?', v.application);
  const act = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/versions/{application}/{number}/withdraw', {
          params: { path: { application: v.application, number: v.number } },
          body: { reason },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['versions'] }),
  });
  return (
    <Panel title={t.withdraw(v.number)}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        {t.withdrawHint}
      </Typography>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
        <TextField
          size="small"
          label={t.withdrawReason}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ minWidth: 240 }}
        />
        <Act
          kind="outlined"
          why={may ?? (reason ? undefined : t.sayWhy)}
          busy={act.isPending}
          onClick={() => act.mutate()}
        >
          {t.withdraw(v.number)}
        </Act>
      </Box>
    </Panel>
  );
}
