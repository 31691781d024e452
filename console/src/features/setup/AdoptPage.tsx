import { Box, Checkbox, FormControlLabel, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Act, Empty, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { Underway } from '../../shared/ui/Underway';
import { t } from './texts';
import { versions } from '../../shared/data/lists';

/** From what a site holds, pick what belongs to the application; nothing is written there but the marker. */
export default function AdoptPage() {
  const { application = '' } = useParams();
  const navigate = useNavigate();
  const [site, setSite] = useState('');
  const [number, setNumber] = useState('1.0.0');
  const [title, setTitle] = useState('');
  const [grants, setGrants] = useState(false);
  const [picked, setPicked] = useState<Record<string, boolean>>({});
  const stages = useQuery({ queryKey: ['stages'], queryFn: () => unwrap(client.GET('/api/v1/stages')) });
  const known = useQuery(versions(application));
  const candidates = useQuery({
    queryKey: ['candidates', application, site, grants],
    enabled: site !== '',
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/applications/{key}/candidates', {
          params: { path: { key: application }, query: { site, grants: grants || undefined } },
        }),
      ),
  });
  const exists = (known.data ?? []).length > 0;
  const picks = Object.keys(picked).filter((k) => picked[k]);
  const generated = (records: string) =>
    (candidates.data ?? []).some((c) => c.keyRemark !== '' && c.component.replace('table/', 'records/') === records);
  const adopt = useMutation({
    mutationFn: async () => {
      if (exists)
        await unwrap(
          client.POST('/api/v1/applications/{key}/match', {
            params: { path: { key: application } },
            body: { site, number },
          }),
        );
      else
        await unwrap(
          client.POST('/api/v1/applications/{key}/adopt', {
            params: { path: { key: application } },
            body: {
              site,
              number,
              title,
              // the remark about such a key stands beside the box that was ticked
              picks: picks.map((component) => ({ component, generatedKeyConfirmed: generated(component) })),
            },
          }),
        );
    },
    onSuccess: () => navigate('/standing'),
  });
  const sites = (stages.data ?? [])
    .filter((s) => s.role !== 'development')
    .flatMap((s) => s.sites.map((x) => `${s.key}/${x.key}`));
  const toggle = (key: string) => setPicked({ ...picked, [key]: !picked[key] });
  const why = !site
    ? t.adoptPage.chooseASite
    : exists
      ? number
        ? undefined
        : t.adoptPage.chooseAVersion
      : picks.length === 0
        ? t.adoptPage.pickAtLeastOneComponent
        : !title
          ? t.adoptPage.giveItATitle
          : undefined;
  return (
    <>
      <PageTitle
        title={t.adoptPage.adopt(application)}
        note={exists ? t.adoptPage.itHasVersionsAlreadyMatch : t.adoptPage.recordWhatASiteAlready}
      />
      <Problem error={adopt.error ?? candidates.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 2 }}>
        <TextField
          select
          size="small"
          label={t.adoptPage.site}
          value={site}
          onChange={(e) => setSite(e.target.value)}
          sx={{ minWidth: 180 }}
        >
          {sites.map((s) => (
            <MenuItem key={s} value={s}>
              {s}
            </MenuItem>
          ))}
        </TextField>
        {exists ? (
          <TextField
            select
            size="small"
            label={t.adoptPage.version}
            value={number}
            onChange={(e) => setNumber(e.target.value)}
            sx={{ minWidth: 180 }}
          >
            {(known.data ?? []).map((v) => (
              <MenuItem key={v.number} value={v.number}>
                {v.number} {v.title}
              </MenuItem>
            ))}
          </TextField>
        ) : (
          <>
            <TextField
              size="small"
              label={t.adoptPage.number}
              value={number}
              onChange={(e) => setNumber(e.target.value)}
            />
            <TextField
              size="small"
              label={t.adoptPage.title}
              value={title}
              onChange={(e) => setTitle(e.target.value)}
              sx={{ minWidth: 260 }}
            />
          </>
        )}
      </Box>
      {site && !exists && (
        <Box sx={{ mb: 2 }}>
          <FormControlLabel
            control={<Checkbox size="small" checked={grants} onChange={(e) => setGrants(e.target.checked)} />}
            label={t.adoptPage.rightsToo}
          />
          <Typography variant="caption" component="p" color="textSecondary">
            {t.adoptPage.rightsAreAskedFor}
          </Typography>
        </Box>
      )}
      {site &&
        !exists &&
        (!candidates.data ? (
          <Loading what={t.adoptPage.whatHolds(site)} />
        ) : candidates.data.length === 0 ? (
          <Empty>{t.adoptPage.holdsNothingInTheApplications(site)}</Empty>
        ) : (
          <Panel title={t.adoptPage.whatBelongsToTheApplication}>
            <Rows
              label={t.adoptPage.components}
              heads={[
                t.adoptPage.component,
                t.adoptPage.takeIt,
                t.adoptPage.rowsToo,
                t.adoptPage.rowsOrBytes,
                t.adoptPage.key,
                t.adoptPage.remarks,
              ]}
            >
              {candidates.data.map((c) => {
                const records = c.component.startsWith('table/') ? c.component.replace('table/', 'records/') : '';
                return (
                  <tr key={c.component}>
                    <td style={{ overflowWrap: 'anywhere' }}>{c.component}</td>
                    <td>
                      <Checkbox
                        size="small"
                        checked={Boolean(picked[c.component])}
                        disabled={c.refusals.length > 0}
                        onChange={() => toggle(c.component)}
                        slotProps={{ input: { 'aria-label': `Take ${c.component}` } }}
                      />
                    </td>
                    <td>
                      {records && (
                        <Checkbox
                          size="small"
                          checked={Boolean(picked[records])}
                          disabled={c.refusals.length > 0 || c.keyProblem !== ''}
                          onChange={() => toggle(records)}
                          slotProps={{ input: { 'aria-label': `Rows of ${c.component}` } }}
                        />
                      )}
                    </td>
                    <td>
                      {!records
                        ? c.size.toLocaleString('en-GB') + t.adoptPage.bytes
                        : c.rows < 0
                          ? ''
                          : c.rows.toLocaleString('en-GB')}
                    </td>
                    <td>{c.key.join(', ')}</td>
                    <td>
                      {[...c.refusals, ...c.risks, c.keyRemark, records ? c.keyProblem : ''].filter(Boolean).join('; ')}
                    </td>
                  </tr>
                );
              })}
            </Rows>
          </Panel>
        ))}
      <Underway about={`application/${application}`} busy={adopt.isPending} touched={['versions', 'standing']} />
      <Act why={why} busy={adopt.isPending} onClick={() => adopt.mutate()}>
        {exists
          ? t.adoptPage.matchWith(site || t.adoptPage.theSite, application, number)
          : t.adoptPage.adoptAs(site || t.adoptPage.theSite, application, number)}
      </Act>
      <Typography variant="caption" component="p" color="textSecondary">
        {t.adoptPage.nothingIsWrittenToBut(site || t.adoptPage.theSite)}
      </Typography>
    </>
  );
}
