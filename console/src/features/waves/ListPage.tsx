import { Box, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { useFilters } from '../../shared/data/filters';
import { Choice, Text } from '../../shared/ui/fields';
import { Listing } from '../../shared/ui/Listing';
import { Act, Go, PageTitle, Panel, Problem, State } from '../../shared/ui/parts';
import { applications, stages, versions, waves, type Waves } from './api';
import { t } from './texts';

/** Versions that went, or go, to several sites at once. */
export default function WavesPage() {
  const filters = useFilters({});
  const all = useInfiniteQuery(waves(filters.size));
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <Panel>
        <Listing of={all} filters={filters} label={t.title} heads={t.heads} none={t.none}>
          {(w) => <Line key={w.number} w={w} />}
        </Listing>
      </Panel>
      <Prepare />
    </>
  );
}

function Line({ w }: { w: Waves }) {
  return (
    <tr>
      <td>
        <Go to={`/waves/${w.number}`}>{w.number}</Go>
      </td>
      <td>
        {w.application} {w.version}
      </td>
      <td>{w.production ? <b>{w.stageName}</b> : w.stageName}</td>
      <td>
        <State word={w.state} />
      </td>
      <td>{t.of(w.there, w.sites)}</td>
      <td>{w.preparedBy}</td>
    </tr>
  );
}

/** Which sites in which wave, and what must happen between them. */
function Prepare() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const apps = useQuery(applications()).data ?? [];
  const places = (useQuery(stages()).data ?? []).filter((s) => s.role !== 'development' && s.sites.length > 1);
  const [app, setApp] = useState('');
  const [version, setVersion] = useState('');
  const [key, setKey] = useState('');
  const [wave, setWave] = useState<Record<string, string>>({});
  const [rules, setRules] = useState({ between: 'go-on', minutes: 0, failures: 0 });
  const all = useQuery({ ...versions(app), enabled: app !== '' }).data ?? [];
  const stage = places.find((s) => s.key === key);
  const sites = stage?.sites.map((s) => `${stage.key}/${s.key}`) ?? [];
  const order = (site: string) => wave[site] ?? String(sites.indexOf(site) + 1);
  const chosen = sites.filter((s) => order(s) !== '');
  const grouped = [...new Set(chosen.map((s) => Number(order(s))))]
    .sort((a, b) => a - b)
    .map((n) => chosen.filter((s) => Number(order(s)) === n));
  const act = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/waves', { body: { application: app, version, stage: key, waves: grouped, ...rules } }),
      ),
    onSuccess: async (w) => {
      await queries.invalidateQueries({ queryKey: ['waves'] });
      navigate(`/waves/${w.number}`);
    },
  });
  const why = !app || !version || !key ? t.choose : chosen.length < 2 ? t.two : undefined;
  return (
    <Panel title={t.prepare}>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
        <Choice
          label={t.application}
          value={app}
          of={apps.map((a) => [a.key, a.name])}
          set={(a) => {
            setApp(a);
            setVersion('');
          }}
        />
        <Choice
          label={t.version}
          value={version}
          of={all.filter((v) => !v.withdrawn).map((v) => [v.number, `${v.number} ${v.title}`])}
          width={260}
          set={setVersion}
        />
        <Choice label={t.stage} value={key} of={places.map((s) => [s.key, s.name])} set={setKey} />
      </Box>
      {sites.length > 0 && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
          {sites.map((s) => (
            <Choice
              key={s}
              label={t.waveOf(s)}
              value={order(s)}
              of={[['', t.notIn], ...sites.map((_, n): [string, string] => [String(n + 1), t.wave(n + 1)])]}
              width={220}
              set={(n) => setWave({ ...wave, [s]: n })}
            />
          ))}
          <Choice
            label={t.rules}
            value={rules.between}
            of={Object.entries(t.ruleOf)}
            width={200}
            set={(between) => setRules({ ...rules, between })}
          />
          <Text
            label={t.minutes}
            type="number"
            value={String(rules.minutes)}
            set={(m) => setRules({ ...rules, minutes: Number(m) })}
          />
          <Text
            label={t.mayFail}
            type="number"
            value={String(rules.failures)}
            set={(f) => setRules({ ...rules, failures: Number(f) })}
          />
        </Box>
      )}
      {grouped.length > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
          {grouped.map((g, n) => `${t.wave(n + 1)}: ${g.join(', ')}`).join(' · ')}
        </Typography>
      )}
      <Act why={why} busy={act.isPending} onClick={() => act.mutate()}>
        {t.open2}
      </Act>
    </Panel>
  );
}
