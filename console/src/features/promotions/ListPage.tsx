import { Box, TextField } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Choice } from '../../shared/ui/Choice';
import { Act, Fingerprint, Go, PageTitle, Panel, Problem, State } from '../../shared/ui/parts';
import { applications, promotions, stages, versions } from './api';
import { about } from '../../shared/purpose';
import { t } from './texts';
import { ANY, useFilters } from '../../shared/data/filters';
import { ByApplication, ByStage, Listing, Narrow } from '../../shared/ui/Listing';

export default function PromotionsPage() {
  const filters = useFilters({ state: 'open', application: '', stage: '' });
  const all = useInfiniteQuery(promotions(filters.values, filters.size));
  return (
    <>
      <PageTitle title={t.listPage.promotions}>
        <Narrow of={filters} name="state" label={t.listPage.show} any={ANY} choices={t.listPage.states} />
        <ByApplication of={filters} />
        <ByStage of={filters} />
      </PageTitle>
      <Prepare />
      <Listing
        of={all}
        filters={filters}
        label={t.listPage.promotions}
        heads={t.listPage.heads}
        none={t.listPage.noPromotionIsOpen}
      >
        {(p) => (
          <tr key={p.number}>
            <td>
              <Go to={`/promotions/${p.number}`}>{p.number}</Go>
            </td>
            <td>
              {p.application} {p.version}
              {about(p.purpose)}
            </td>
            <td>{p.production ? <b>{p.site}</b> : p.site}</td>
            <td>{p.present}</td>
            <td>
              <State word={p.state} />
            </td>
            <td>
              <Fingerprint value={p.fingerprint} />
            </td>
            <td>{p.gates.map((g) => g.words).join('; ')}</td>
          </tr>
        )}
      </Listing>
    </>
  );
}

/** What is prepared next; the address may name the version, as fares@2.8.0. */
export function Prepare() {
  const navigate = useNavigate();
  const [named = '', number = ''] = (useSearchParams()[0].get('prepare') ?? '').split('@');
  const [application, setApplication] = useState(named);
  const [version, setVersion] = useState(number);
  const [site, setSite] = useState('');
  const [path, setPath] = useState('');
  const [notes, setNotes] = useState('');
  const apps = useQuery(applications());
  const known = useQuery({ ...versions(application), enabled: application !== '' });
  const places = useQuery(stages());
  const prepare = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/promotions', { body: { application, version, site, path: path || undefined, notes } }),
      ),
    onSuccess: (p) => navigate(`/promotions/${p.number}`),
  });
  const app = apps.data?.find((a) => a.key === application);
  const numbers = (known.data ?? []).filter((v) => !v.withdrawn);
  const chosen = numbers.find((v) => v.number === version);
  const ways = app?.paths ?? [];
  const sites =
    places.data?.filter((s) => s.role !== 'development').flatMap((s) => s.sites.map((x) => `${s.key}/${x.key}`)) ?? [];
  const why = !app
    ? t.listPage.chooseAnApplication
    : !chosen
      ? t.listPage.chooseAVersion
      : !site
        ? t.listPage.chooseWhereItGoes
        : undefined;
  return (
    <Panel title={t.listPage.prepareAPromotion}>
      <Problem error={prepare.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Choice
          label={t.listPage.application}
          value={app?.key ?? ''}
          onChange={(key) => {
            setApplication(key);
            setVersion('');
            setPath('');
          }}
          of={(apps.data ?? []).map((a) => [a.key, a.name])}
        />
        <Choice
          label={t.listPage.version}
          value={chosen?.number ?? ''}
          onChange={setVersion}
          of={numbers.map((v) => [v.number, `${v.number} ${v.title}`])}
          off={!known.data}
        />
        <Choice label={t.listPage.to} value={site} onChange={setSite} of={sites.map((x) => [x, x])} />
        {ways.length > 1 && (
          <Choice
            label={t.listPage.path}
            value={path || (ways[0] ?? '')}
            onChange={setPath}
            of={ways.map((w) => [w, w])}
          />
        )}
        <TextField
          size="small"
          label={t.listPage.notes}
          helperText={t.listPage.notesHint}
          value={notes}
          onChange={(e) => setNotes(e.target.value)}
        />
        <Act why={why} busy={prepare.isPending} onClick={() => prepare.mutate()}>
          {t.listPage.prepareAndCompare}
        </Act>
      </Box>
    </Panel>
  );
}
