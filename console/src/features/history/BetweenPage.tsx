import { Box, TextField } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useParams, useSearchParams } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Download, Empty, Loading, PageTitle, Problem } from '../../shared/ui/parts';
import { ReportView } from '../../shared/ui/ReportView';
import { t } from './texts';

/** Days of the reader, as the moments between which something changed. */
export function span(from: string, until: string): { from: string; until: string } {
  return {
    from: new Date(`${from}T00:00:00`).toISOString(),
    until: new Date(`${until}T23:59:59.999`).toISOString(),
  };
}

/** What changed of an application at a site between two days. */
export default function BetweenPage() {
  const { application = '', stage = '', site = '' } = useParams();
  const [params, setParams] = useSearchParams();
  const from = params.get('from') ?? '';
  const until = params.get('until') ?? '';
  const fits = from !== '' && until !== '' && from <= until;
  const query = fits ? span(from, until) : { from: '', until: '' };
  const q = useQuery({
    queryKey: ['between', application, stage, site, query],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/records/{application}/{stage}/{site}/between', {
          params: { path: { application, stage, site }, query },
        }),
      ),
    enabled: fits,
  });
  const set = (part: Record<string, string>) => setParams({ from, until, ...part }, { replace: true });
  const file = (form: string) =>
    `/api/v1/records/${application}/${stage}/${site}/between${form}?${new URLSearchParams(query)}`;
  return (
    <>
      <PageTitle title={t.between.title(application, `${stage}/${site}`)} note={t.between.note} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 2, alignItems: 'center' }}>
        {(['from', 'until'] as const).map((end) => (
          <TextField
            key={end}
            type="date"
            size="small"
            label={t.between[end]}
            value={end === 'from' ? from : until}
            onChange={(e) => set({ [end]: e.target.value })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        ))}
        {q.data && (
          <>
            <Download href={file('/html')}>{t.between.save('HTML')}</Download>
            <Download href={file('/md')}>{t.between.save('Markdown')}</Download>
            <Download href={file('')}>{t.between.save('JSON')}</Download>
          </>
        )}
      </Box>
      <Problem error={q.error} />
      {!fits ? (
        <Empty>{t.between.choose}</Empty>
      ) : q.data ? (
        <ReportView of={q.data} />
      ) : (
        !q.error && <Loading what={t.between.title(application, `${stage}/${site}`)} />
      )}
    </>
  );
}
