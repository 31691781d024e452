import { Box, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Download, Empty, Facts, Go, Loading, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { line, needs as needsOf } from './api';
import { Maintenance } from './Maintenance';
import { t } from './texts';

/** What is recorded of the application at each site, and whether it is still so. */
export function Sites({ application }: { application: string }) {
  const standing = useQuery(line(application));
  const cells = standing.data?.cells ?? [];
  const there = cells.filter((c) => c.version);
  if (!standing.data) return <Problem error={standing.error} />;
  return there.length === 0 ? (
    <Panel title={t.sites}>
      <Empty>{t.noSites}</Empty>
    </Panel>
  ) : (
    <>
      {there.map((c) => (
        <Site key={c.site} application={application} cell={c} />
      ))}
    </>
  );
}

function Site({ application, cell }: { application: string; cell: Schemas['StandingCell'] }) {
  const [stage = '', site = ''] = cell.site.split('/');
  const path = { application, stage, site };
  const queries = useQueryClient();
  const again = () => void queries.invalidateQueries({ queryKey: ['standing'] });
  const record = useQuery({
    queryKey: ['standing', 'record', application, cell.site],
    queryFn: () => unwrap(client.GET('/api/v1/records/{application}/{stage}/{site}', { params: { path } })),
  });
  const look = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/records/{application}/{stage}/{site}/look', { params: { path } })),
    onSuccess: again,
  });
  const r = record.data;
  const judged = r?.verdicts[r.verdicts.length - 1];
  return (
    <Panel title={cell.site} production={cell.production} action={<State word={cell.condition} strong />}>
      <Problem error={record.error ?? look.error} />
      {!r ? (
        !record.error && <Loading what={cell.site} />
      ) : (
        <Facts
          list={[
            [t.siteFacts.version, r.version],
            [t.siteFacts.lastGood, r.lastGood],
            [t.siteFacts.looked, r.lookedAt && <Time key="at" at={r.lookedAt} />],
            [
              t.siteFacts.differs,
              !r.reachable ? (
                t.notKnown
              ) : r.drift < 0 ? (
                t.notLooked
              ) : r.drift === 0 ? (
                t.nothingDiffers
              ) : (
                <ul key="drift" style={{ margin: 0, paddingLeft: 18 }}>
                  {r.driftExamples.map((e) => (
                    <li key={e} style={{ overflowWrap: 'anywhere' }}>
                      {e}
                    </li>
                  ))}
                </ul>
              ),
            ],
            [t.siteFacts.older, r.older && t.older(r.older)],
            [t.siteFacts.maintenance, r.closedBy && t.closed(r.closedBy)],
            [t.siteFacts.exceptions, r.exceptions.join(', ')],
            [t.siteFacts.verdict, judged && t.judged(judged)],
          ]}
        />
      )}
      <Needs application={application} site={cell.site} />
      <Maintenance application={application} site={cell.site} />
      <Box sx={{ mt: 2, display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Act kind="outlined" busy={look.isPending} onClick={() => look.mutate()}>
          {t.look(cell.site)}
        </Act>
        <Go to={`/drift/${application}/${cell.site}`}>{t.allThatDiffers}</Go>
        <Go to={`/rollback/${application}/${cell.site}`}>{t.waysBack}</Go>
        <Go to={`/history/${application}/${cell.site}`}>{t.whatChanged}</Go>
        <Download href={`/api/v1/applications/${application}/documents?site=${encodeURIComponent(cell.site)}`}>
          {t.documents}
        </Download>
        {cell.activity === 'failed' && cell.link?.startsWith('R-') && (
          <Close path={path} run={cell.link} after={again} />
        )}
      </Box>
    </Panel>
  );
}

/** A failure stays until a run succeeds or a person closes it with a note. */
function Close({
  path,
  run,
  after,
}: {
  path: { application: string; stage: string; site: string };
  run: string;
  after: () => void;
}) {
  const [reason, setReason] = useState('');
  const may = useMissing('run', path.stage, path.application);
  const close = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/close-failure', {
          params: { path },
          body: { reason },
        }),
      ),
    onSuccess: after,
  });
  return (
    <>
      <Problem error={close.error} />
      <TextField size="small" label={t.closeReason} value={reason} onChange={(e) => setReason(e.target.value)} />
      <Act
        kind="outlined"
        why={may ?? (reason ? undefined : t.sayWhy)}
        busy={close.isPending}
        onClick={() => close.mutate()}
      >
        {t.close(run)}
      </Act>
    </>
  );
}

/** What is there and off, without a value, or in no version; what is off may be switched on. */
function Needs({ application, site }: { application: string; site: string }) {
  const [stage = '', name = ''] = site.split('/');
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const may = useMissing('operate', stage, application);
  const needs = useQuery(needsOf(application, site));
  const on = useMutation({
    mutationFn: (component: string) =>
      unwrap(
        client.POST('/api/v1/sites/{stage}/{site}/activation', {
          params: { path: { stage, site: name } },
          body: { application, component, on: true, reason },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['needs'] }),
  });
  if (!needs.data || needs.data.length === 0) return null;
  const off = needs.data.some((n) => n.need === 'off');
  return (
    <Box sx={{ mt: 2 }}>
      <Problem error={on.error} />
      {off && (
        <TextField
          size="small"
          label={t.switchReason}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: 320, maxWidth: '100%', mb: 1 }}
        />
      )}
      <Rows label={t.needs} heads={t.needHeads}>
        {needs.data.map((n) => (
          <tr key={`${n.component} ${n.need}`}>
            <td style={{ overflowWrap: 'anywhere' }}>{n.component}</td>
            <td>{n.need}</td>
            <td>{n.text}</td>
            <td>
              {n.need === 'off' && (
                <Act
                  kind="outlined"
                  why={may ?? (reason ? undefined : t.sayWhy)}
                  busy={on.isPending && on.variables === n.component}
                  onClick={() => on.mutate(n.component)}
                >
                  {t.switchOn(n.component)}
                </Act>
              )}
            </td>
          </tr>
        ))}
      </Rows>
    </Box>
  );
}
