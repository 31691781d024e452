import { Box, Button, MenuItem, TextField } from '@mui/material';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Band } from './Band';
import { Verify } from './Verify';
import { Empty, Go, Loading, PageTitle, Problem, Rows, Time } from '../../shared/ui/parts';
import { t } from './texts';
import { pages, itemsOf, applications, stages } from '../../shared/data/lists';

/** Codes of events, as the API names them. */
const events = [
  'adopted',
  'matched',
  'sealed',
  'promotion prepared',
  'approved',
  'rejected',
  'risk accepted',
  'run started',
  'run done',
  'run stopped',
  'run aborted',
  'rolled back',
  'judged good',
  'judged bad',
  'drift found',
];

const sites = (stages: Schemas['StageView'][] | undefined, stage: string) =>
  (stages ?? [])
    .filter((s) => s.key === stage && s.role !== 'development')
    .flatMap((s) => s.sites.map((x) => `${stage}/${x.key}`));

/** Who put what where, when, on whose word. The filters live in the address. */
export default function HistoryPage() {
  const [params, setParams] = useSearchParams();
  const filter = Object.fromEntries(['application', 'stage', 'event', 'actor'].map((k) => [k, params.get(k) ?? '']));
  const apps = useQuery(applications());
  const places = useQuery(stages());
  const q = useInfiniteQuery(
    pages(['history', filter], (cursor) =>
      unwrap(
        client.GET('/api/v1/history', {
          params: {
            query: {
              application: filter.application || undefined,
              stage: filter.stage || undefined,
              event: filter.event || undefined,
              actor: filter.actor || undefined,
              cursor,
            },
          },
        }),
      ),
    ),
  );
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next, { replace: true });
  };
  const choose = (key: string, label: string, values: string[]) => (
    <TextField
      select
      size="small"
      label={label}
      value={filter[key]}
      onChange={(e) => set(key, e.target.value)}
      sx={{ minWidth: 140 }}
    >
      <MenuItem value="">{t.page.any}</MenuItem>
      {values.map((v) => (
        <MenuItem key={v} value={v}>
          {v}
        </MenuItem>
      ))}
    </TextField>
  );
  const items = itemsOf(q.data) ?? [];
  const filtered = Object.values(filter).some(Boolean);
  return (
    <>
      <PageTitle title={t.page.history}>
        {choose(
          'application',
          t.page.application,
          (apps.data ?? []).map((a) => a.key),
        )}
        {choose(
          'stage',
          t.page.stage,
          (places.data ?? []).map((s) => s.key),
        )}
        {choose('event', t.page.what, events)}
        <TextField
          size="small"
          label={t.page.who}
          value={filter.actor}
          onChange={(e) => set('actor', e.target.value)}
          sx={{ width: 120 }}
          slotProps={{ htmlInput: { 'data-find': true } }}
        />
      </PageTitle>
      {filter.application &&
        filter.stage &&
        sites(places.data, filter.stage).map((site) => (
          <Band key={site} application={filter.application ?? ''} site={site} />
        ))}
      <Problem error={q.error} />
      {!q.data ? (
        <Loading what={t.page.theHistory} />
      ) : items.length === 0 ? (
        <Empty>
          {filtered ? (
            <>
              {t.page.nothingMatches} <Button onClick={() => setParams({})}>{t.page.clearFilters}</Button>
            </>
          ) : (
            t.page.nothingHappenedYetThatYou
          )}
        </Empty>
      ) : (
        <>
          <Rows label={t.page.historyNewestFirst} heads={t.page.heads}>
            {items.map((e) => (
              <tr key={e.sequence}>
                <td style={{ whiteSpace: 'nowrap' }}>
                  <Time at={e.at} />
                </td>
                <td>{e.actor}</td>
                <td style={{ fontWeight: 600 }}>{e.event}</td>
                <td style={{ whiteSpace: 'nowrap' }}>
                  {e.application} {e.version}
                </td>
                <td>
                  {e.stage}
                  {e.site ? `/${e.site}` : ''}
                </td>
                <td style={{ overflowWrap: 'anywhere' }}>
                  {e.run ? (
                    <Go to={`/runs/${e.run}`}>{e.run}</Go>
                  ) : e.promotion ? (
                    <Go to={`/promotions/${e.promotion}`}>{e.promotion}</Go>
                  ) : null}{' '}
                  {e.text}
                </td>
              </tr>
            ))}
          </Rows>
          {q.hasNextPage && (
            <Button variant="outlined" sx={{ mt: 2 }} loading={q.isFetchingNextPage} onClick={() => q.fetchNextPage()}>
              {t.page.earlier}
            </Button>
          )}
        </>
      )}
      <Box sx={{ mt: 2 }}>
        <Verify />
      </Box>
    </>
  );
}
