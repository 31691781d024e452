import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useMissing } from '../../../shared/data/rights';
import { Act, Panel, Problem } from '../../../shared/ui/parts';
import { checkSite, connections, useSetUp, type Stage } from '../api';
import { t } from '../texts';
import { ConnectionForm, Found } from './Connections';
import { StageForm } from './NewStage';
import { Windows } from './Windows';
import { Severities } from './Severities';
import { SiteForm } from './SiteForm';

/** One stage with its sites, its connections and what their tests found. */
export function StagePanel({ s }: { s: Stage }) {
  const all = useQuery(connections(s.key));
  const check = useSetUp(checkSite, ['connections', 'standing', 'promotions']);
  const may = useMissing('operate', s.key, '*');
  return (
    <Panel title={s.name} production={s.role === 'production'}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {s.role}: {s.role === 'development' ? t.source : t.facts(s)}
      </Typography>
      <Problem error={check.error ?? all.error} />
      {s.sites.map((site) => (
        <Box key={site.key} sx={{ mb: 1, display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
          <b>
            {s.key}/{site.key}
          </b>
          <Typography component="span" variant="body2">
            {site.targets
              .map((x) => (x.schemas.length > 0 ? t.stagePanel.schemas(x.key, x.schemas.join(', ')) : x.key))
              .join('; ')}
          </Typography>
          <Act
            kind="outlined"
            why={may}
            busy={check.isPending && check.variables?.site === site.key}
            onClick={() => check.mutate({ stage: s.key, site: site.key })}
          >
            {t.test(`${s.key}/${site.key}`)}
          </Act>
        </Box>
      ))}
      {(all.data ?? []).map((c) => (
        <Found key={c.name} c={c} />
      ))}
      <Box
        component="details"
        open={s.sites.length === 0}
        sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}
      >
        <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>
          {t.setUp(s.name)}
        </Box>
        <Box sx={{ pl: 2, pt: 1 }}>
          <ConnectionForm key={`connection-${all.data?.length}`} stage={s.key} />
          <SiteForm key={`site-${s.sites.length}`} s={s} names={all.data ?? []} />
          {s.sites.map((site) => (
            <SiteForm key={JSON.stringify(site)} s={s} names={all.data ?? []} old={site} />
          ))}
          <StageForm
            key={`stage-${s.revision}`}
            title={t.changeStage(s.name)}
            save={t.save.changes(s.name)}
            stage={s}
            keyed={false}
          />
          {s.role !== 'development' && <Severities s={s} />}
          {s.role !== 'development' && <Windows s={s} />}
        </Box>
      </Box>
    </Panel>
  );
}
