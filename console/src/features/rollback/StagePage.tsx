import { Box, Radio, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { client, newKey, unwrap, type Schemas } from '../../shared/data/api';
import { plural } from '../../shared/time';
import { Fingerprint, Go, Loading, PageTitle, Panel, Problem, Rows } from '../../shared/ui/parts';
import { Ask } from './Ask';
import { t } from './texts';
import { ways as names } from './ways';

type Stage = Schemas['StageWays'];

/** Going back at every site of a stage that a version came to; the others stay as they are. */
export default function StagePage() {
  const { application = '', stage = '' } = useParams();
  const [params] = useSearchParams();
  const leaving = params.get('leaving') ?? undefined;
  const q = useQuery({
    queryKey: ['rollback', 'stage', application, stage, leaving],
    queryFn: () => unwrap(client.GET('/api/v1/rollback/sites', { params: { query: { application, stage, leaving } } })),
    staleTime: 0,
  });
  if (q.error) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={t.stage.working(stage)} />;
  const s = q.data;
  return (
    <>
      <PageTitle
        title={t.stage.title(application, stage)}
        production={s.production}
        note={s.leaving ? t.stage.leaves(s.leaving) : t.stage.leavesNothing}
      />
      <Sites s={s} />
      {s.ways.length > 0 && <Choose s={s} />}
    </>
  );
}

/** What each site holds, and what each way would lose there. */
function Sites({ s }: { s: Stage }) {
  return (
    <Panel title={t.stage.sites}>
      <Rows label={t.stage.sites} heads={[t.stage.site, t.stage.has, ...s.ways.map((w) => names[w.way] ?? w.way)]}>
        {s.sites.map((at) => (
          <tr key={at.site}>
            <td style={{ fontWeight: 600 }}>
              <Go to={`/rollback/${s.application}/${at.site}`}>{at.site}</Go>
            </td>
            <td>
              {at.present ?? t.page.nothing}
              {!at.leaves && `, ${t.stage.stays}`}
            </td>
            {s.ways.map((w) => {
              const here = at.ways.find((x) => x.way === w.way);
              return (
                <td key={w.way} style={{ overflowWrap: 'anywhere' }}>
                  {!here ? '' : here.possible ? loss(here.lost) : t.page.cannotBeUsed(here.why)}
                </td>
              );
            })}
          </tr>
        ))}
      </Rows>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        {t.stage.choicesAtTheSite}
      </Typography>
    </Panel>
  );
}

const loss = (n: number) =>
  n < 0
    ? t.page.lossCantBeKnown
    : n === 0
      ? t.page.losesNothing
      : t.page.loses(plural(n, t.page.rowOrValue, t.page.rowsOrValues));

function Choose({ s }: { s: Stage }) {
  const usable = s.ways.filter((w) => w.possible);
  const [picked, setPicked] = useState(usable.length > 0 && usable.every((w) => w.lost === 0) ? usable[0]!.way : '');
  const [key] = useState(newKey);
  const chosen = s.ways.find((w) => w.way === picked && w.possible);
  const go = useMutation({
    mutationFn: ({ reason, confirm }: { reason: string; confirm?: string }) =>
      unwrap(
        client.POST('/api/v1/rollback/sites', {
          body: {
            application: s.application,
            stage: s.stage,
            leaving: s.leaving,
            way: picked,
            reason,
            expect: chosen?.fullFingerprint ?? '',
            confirm,
          },
          headers: { 'Idempotency-Key': key },
        }),
      ),
  });
  const leaving = s.sites.filter((x) => x.leaves);
  if (go.data) return <Started all={go.data} />;
  return (
    <Panel production={s.production} title={t.page.confirm}>
      <Problem error={go.error} />
      <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mb: 1.5, minWidth: 0 }}>
        <Box component="legend" sx={{ fontWeight: 650 }}>
          {t.page.waysBack}
        </Box>
        {s.ways.map((w) => (
          <Box key={w.way} sx={{ minWidth: 0 }}>
            <Box component="label" sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
              <Radio
                name="way"
                value={w.way}
                checked={picked === w.way}
                disabled={!w.possible}
                onChange={() => setPicked(w.way)}
                sx={{ p: 0.5 }}
              />
              <b>{names[w.way] ?? w.way}</b>
            </Box>
            <Typography variant="body2" color="textSecondary" sx={{ pl: 4.5, overflowWrap: 'anywhere' }}>
              {w.possible ? (
                <>
                  {loss(w.lost)}. {w.covered ? t.stage.covered : t.stage.notCovered} {t.stage.plan}{' '}
                  <Fingerprint value={w.fingerprint} />
                </>
              ) : (
                t.page.cannotBeUsed(w.why)
              )}
            </Typography>
          </Box>
        ))}
      </Box>
      <Ask
        application={s.application}
        may={s.may}
        why={chosen ? undefined : t.page.chooseAWay}
        busy={go.isPending}
        act={t.stage.goBackAt(s.application, leaving.map((x) => x.site).join(', '))}
        go={(reason, confirm) => go.mutate({ reason, confirm })}
      />
    </Panel>
  );
}

/** What came of each site: none keeps another from going back. */
function Started({ all }: { all: Schemas['SiteStarted'][] }) {
  return (
    <Panel title={t.stage.started}>
      <Rows label={t.stage.started} heads={[t.stage.site, t.stage.what]}>
        {all.map((s) => (
          <tr key={s.site}>
            <td style={{ fontWeight: 600 }}>{s.site}</td>
            <td style={{ overflowWrap: 'anywhere' }}>
              {s.run ? (
                <Go to={`/runs/${s.run}`}>{t.stage.runs(s.run)}</Go>
              ) : s.promotion ? (
                <>
                  <Go to={`/promotions/${s.promotion}`}>{s.promotion}</Go>{' '}
                  {s.problem || t.stage.waits(s.gates.map((g) => g.words).join(', '))}
                </>
              ) : (
                s.problem
              )}
            </td>
          </tr>
        ))}
      </Rows>
    </Panel>
  );
}
