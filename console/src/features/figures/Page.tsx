import { Box, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { useSearchParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { applications } from '../../shared/data/lists';
import { duration } from '../../shared/time';
import { Choice } from '../../shared/ui/fields';
import { Download, Empty, Facts, Go, Loading, PageTitle, Panel, Problem, Rows, Time } from '../../shared/ui/parts';
import { t } from './texts';

const Charts = lazy(() => import('./Charts'));

type Row = Schemas['FigureRow'];

/** Midnight, so that a page that is looked at again asks for the same. */
export function span(days: number, now: Date): { from: string; until: string } {
  const end = new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth(), now.getUTCDate() + 1));
  return { from: new Date(end.getTime() - days * 86_400_000).toISOString(), until: end.toISOString() };
}

const said = (seconds?: number | null) => (seconds == null ? '' : duration(seconds));

/** How often, how long, how much came back and why; pictures, each with its table. */
export default function FiguresPage() {
  const [params, setParams] = useSearchParams();
  const days = params.get('days') ?? '90';
  const application = params.get('application') ?? '';
  const of = span(Number(days) || 90, new Date());
  const apps = useQuery(applications());
  const q = useQuery({
    queryKey: ['figures', of, application],
    queryFn: () =>
      unwrap(client.GET('/api/v1/figures', { params: { query: { ...of, application: application || undefined } } })),
    placeholderData: keepPreviousData,
  });
  const set = (part: Record<string, string>) => setParams({ days, application, ...part });
  const f = q.data;
  const document = (form: string) => `/api/v1/exceptions/${form}?from=${of.from}&until=${of.until}`;
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 2 }}>
        <Choice label={t.span} value={days} of={Object.entries(t.days)} set={(d) => set({ days: d })} />
        <Choice
          label={t.application}
          value={application}
          of={[['', t.all], ...(apps.data ?? []).map((a): [string, string] => [a.key, a.name])]}
          set={(a) => set({ application: a })}
        />
      </Box>
      <Problem error={q.error} />
      {!f ? (
        <Loading what={t.title} />
      ) : f.whole.runs === 0 ? (
        <Empty>{t.nothing}</Empty>
      ) : (
        <>
          <Panel title={t.whole(f.whole.runs, f.whole.cameThrough, f.whole.wentBack)}>
            <Typography sx={{ mb: 1 }}>
              {t.rest(f.whole.stopped, f.whole.putBack, f.whole.halfWritten, f.whole.toLookAt)}
            </Typography>
            <Facts
              list={[
                [t.facts.takes, middle(f.whole.tookMedianSeconds)],
                [t.facts.sealing, middle(f.whole.sealingMedianSeconds)],
                [t.facts.yes, middle(f.whole.forYesMedianSeconds)],
                [t.facts.start, middle(f.whole.forStartMedianSeconds)],
                [t.facts.out, said(f.whole.usersOutSeconds)],
              ]}
            />
          </Panel>
          <Panel>
            <Suspense fallback={<Loading what={t.ended} />}>
              <Charts months={f.byMonth} stages={f.byStage} />
            </Suspense>
          </Panel>
          <Table title={t.tables.byMonth} rows={f.byMonth} />
          <Table title={t.tables.byStage} rows={f.byStage} />
          <Table title={t.tables.byApplication} rows={f.byApplication} />
          <Panel title={t.backs}>
            {f.backs.length === 0 ? (
              <Empty>{t.noBacks}</Empty>
            ) : (
              <Rows label={t.backs} heads={t.backHeads}>
                {f.backs.map((b) => (
                  <tr key={b.run}>
                    <td>
                      <Go to={`/runs/${b.run}`}>{b.run}</Go>
                    </td>
                    <td>{b.application}</td>
                    <td>{b.site}</td>
                    <td>
                      <Time at={b.at} />
                    </td>
                    <td style={{ overflowWrap: 'anywhere' }}>{b.why}</td>
                  </tr>
                ))}
              </Rows>
            )}
          </Panel>
        </>
      )}
      <Panel title={t.exceptions}>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
          {t.exceptionsHint}
        </Typography>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5 }}>
          <Download href={document('html')}>{t.save('HTML')}</Download>
          <Download href={document('md')}>{t.save('Markdown')}</Download>
          <Download href={`/api/v1/exceptions?from=${of.from}&until=${of.until}`}>{t.save('JSON')}</Download>
        </Box>
      </Panel>
    </>
  );
}

function middle(seconds?: number | null): string {
  return seconds == null ? t.facts.unknown : `${duration(seconds)}, ${t.facts.median}`;
}

function Table({ title, rows }: { title: string; rows: Row[] }) {
  return (
    <Panel title={title}>
      <Rows label={title} heads={t.heads}>
        {rows.map((r) => (
          <tr key={r.name}>
            <td>{r.name}</td>
            <td>{r.runs}</td>
            <td>{r.cameThrough}</td>
            <td>{r.wentBack}</td>
            <td>{r.stopped}</td>
            <td>{r.putBack}</td>
            <td>{r.halfWritten}</td>
            <td>{said(r.usersOutSeconds)}</td>
            <td>{said(r.tookMedianSeconds)}</td>
            <td>{said(r.sealingMedianSeconds)}</td>
          </tr>
        ))}
      </Rows>
    </Panel>
  );
}
