import { Box, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Go, Panel, Problem, Time } from '../../shared/ui/parts';
import { evidence, isThere, type Run } from './api';
import { t } from './texts';

/** The tester's word about what is there now. */
export function Judge({ r }: { r: Run }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const [stage = '', site = ''] = r.goal.site.split('/');
  const record = useQuery({
    queryKey: ['records', r.goal.application, r.goal.site],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/records/{application}/{stage}/{site}', {
          params: { path: { application: r.goal.application, stage, site } },
        }),
      ),
  });
  const given = useQuery({ ...evidence(r.number), enabled: isThere(r) });
  const shows = (given.data?.items ?? []).map((e) => e.number);
  const missing = useMissing('judge', stage, r.goal.application);
  const judge = useMutation({
    mutationFn: (good: boolean) =>
      unwrap(
        client.POST('/api/v1/versions/{application}/{number}/verdict', {
          params: { path: { application: r.goal.application, number: r.goal.version } },
          body: { site: r.goal.site, good, reason, evidence: shows.length > 0 ? shows : undefined },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['records'] });
      void queries.invalidateQueries({ queryKey: ['standing'] });
    },
  });
  if (!isThere(r) || !record.data) return null;
  const verdict = [...record.data.verdicts].reverse().find((v) => v.version === r.goal.version);
  const why = missing ?? (reason ? undefined : t.page.sayWhatWasTriedAnd);
  return (
    <Panel title={t.page.verdict}>
      {verdict ? (
        <Typography>
          {t.page.wasJudged(verdict.version)}
          <b>{verdict.good ? t.page.good : t.page.bad}</b>
          {t.page.by(verdict.by)}
          <Time at={verdict.at} />: {verdict.reason}
          {verdict.evidence.length > 0 && ` (${verdict.evidence.join(', ')})`}
        </Typography>
      ) : (
        <Typography color="textSecondary">{t.page.notJudgedYet}</Typography>
      )}
      <Problem error={judge.error} />
      {shows.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          {t.evidence.with(shows.join(', '))}
        </Typography>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1.5, alignItems: 'center' }}>
        <TextField
          size="small"
          label={t.page.whatWasSeen}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ minWidth: 280 }}
        />
        <Act kind="outlined" why={why} busy={judge.isPending} onClick={() => judge.mutate(true)}>
          {t.page.judgeGoodIn(r.goal.version, r.goal.stageName)}
        </Act>
        <Act kind="outlined" why={why} busy={judge.isPending} onClick={() => judge.mutate(false)}>
          {t.page.judgeBadIn(r.goal.version, r.goal.stageName)}
        </Act>
      </Box>
      {verdict && !verdict.good && record.data.version === r.goal.version && (
        <Typography sx={{ mt: 1.5 }}>
          <Go to={`/rollback/${r.goal.application}/${r.goal.site}`}>
            {t.page.goBackTo(record.data.lastGood ?? t.page.anEarlierVersion)}
          </Go>
        </Typography>
      )}
    </Panel>
  );
}
