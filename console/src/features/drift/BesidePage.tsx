import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useParams, useSearchParams } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { stages, versions } from '../../shared/data/lists';
import { Download, Empty, Loading, PageTitle, Panel, Problem } from '../../shared/ui/parts';
import { Differs } from './Differs';
import { t } from './texts';

/** What a site holds otherwise than another site, or than a version; the address says which. */
export default function BesidePage() {
  const { application = '', stage = '', site = '' } = useParams();
  const [params, setParams] = useSearchParams();
  const other = params.get('with') ?? '';
  const day = /^\d{4}-\d{2}-\d{2}$/.test(other);
  const here = `${stage}/${site}`;
  const all = useQuery(stages());
  const sealed = useQuery(versions(application));
  const q = useQuery({
    queryKey: ['beside', application, here, other],
    enabled: other !== '',
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/records/{application}/{stage}/{site}/compare', {
          params: { path: { application, stage, site }, query: { with: other } },
        }),
      ),
    staleTime: 0,
    placeholderData: keepPreviousData,
  });
  const sites = (all.data ?? []).flatMap((s) => s.sites.map((x) => `${s.key}/${x.key}`)).filter((s) => s !== here);
  const c = other ? q.data : undefined;
  return (
    <>
      <PageTitle title={t.beside.title(application, here)} note={t.beside.note} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 2 }}>
        <TextField
          select
          size="small"
          label={t.beside.with}
          value={day ? '' : other}
          onChange={(e) => setParams({ with: e.target.value })}
          sx={{ minWidth: 260 }}
        >
          {sites.map((s) => (
            <MenuItem key={s} value={s}>
              {s}
            </MenuItem>
          ))}
          {(sealed.data ?? []).map((v) => (
            <MenuItem key={v.number} value={v.number}>
              {v.number} {v.title}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          type="date"
          size="small"
          label={t.beside.day}
          value={day ? other : ''}
          onChange={(e) => e.target.value && setParams({ with: e.target.value })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      </Box>
      <Problem error={q.error} />
      {other && !c && !q.error && <Loading what={t.beside.working(here, other)} />}
      {c && (
        <Box aria-busy={q.isPlaceholderData} sx={q.isPlaceholderData ? { opacity: 0.6 } : undefined}>
          {c.all === 0 ? (
            <Empty>{t.beside.nothing}</Empty>
          ) : (
            <Box sx={{ mb: 2, display: 'flex', flexWrap: 'wrap', gap: 2 }}>
              <span role="status">{t.beside.differ(c.all, c.items.length)}</span>
              <Download
                href={`/api/v1/records/${application}/${stage}/${site}/compare/file?with=${encodeURIComponent(other)}`}
              >
                {t.csv}
              </Download>
            </Box>
          )}
          {c.groups.map((g) => (
            <Panel key={g.component} title={g.component}>
              <Typography color="textSecondary">{t.counts(g)}</Typography>
              {c.items
                .filter((l) => l.component === g.component)
                .map((l, n) => (
                  <Differs key={`${l.place} ${n}`} l={l} heads={[c.with, c.site]} />
                ))}
            </Panel>
          ))}
        </Box>
      )}
    </>
  );
}
