import { Box } from '@mui/material';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { Band } from './Band';
import { Saved } from './Saved';
import { Verify } from './Verify';
import { Go, PageTitle, Time } from '../../shared/ui/parts';
import { t } from './texts';
import { asked, useFilters } from '../../shared/data/filters';
import { pages, stages } from '../../shared/data/lists';
import Find from '../../shared/ui/Find';
import { ByApplication, ByStage, Listing, Narrow } from '../../shared/ui/Listing';

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
  const filters = useFilters({ application: '', stage: '', site: '', event: '', actor: '', text: '' });
  const { application = '', stage = '' } = filters.values;
  const places = useQuery(stages());
  // a site is one of a stage: without that it narrows nothing
  const values = stage ? filters.values : { ...filters.values, site: '' };
  const q = useInfiniteQuery(
    pages(['history', values, filters.size], (cursor) =>
      unwrap(client.GET('/api/v1/history', { params: { query: { ...asked(values), cursor, limit: filters.size } } })),
    ),
  );
  return (
    <>
      <PageTitle title={t.page.history}>
        <ByApplication of={filters} />
        <ByStage of={filters} all />
        {stage && (
          <Narrow
            of={filters}
            name="site"
            label={t.page.site}
            choices={sites(places.data, stage).map((s) => s.split('/')[1] ?? '')}
          />
        )}
        <Narrow of={filters} name="event" label={t.page.what} choices={events} />
        <Find
          width={130}
          label={t.page.who}
          value={filters.shown.actor ?? ''}
          onChange={(who) => filters.set('actor', who)}
        />
        <Find
          width={150}
          label={t.page.says}
          value={filters.shown.text ?? ''}
          onChange={(text) => filters.set('text', text)}
        />
      </PageTitle>
      {application &&
        stage &&
        sites(places.data, stage).map((site) => (
          <Box key={site} sx={{ mb: 2 }}>
            <Band application={application} site={site} />
            <Go to={`/history/${application}/${site}`}>{t.between.link(site)}</Go>
          </Box>
        ))}
      <Listing
        of={q}
        filters={filters}
        label={t.page.historyNewestFirst}
        heads={t.page.heads}
        none={t.page.nothingHappenedYetThatYou}
      >
        {(e) => (
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
        )}
      </Listing>
      <Box sx={{ mt: 2 }}>
        <Verify />
        <Saved />
      </Box>
    </>
  );
}
