import { Box, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { client, unwrap } from '../../shared/data/api';
import { Attributes } from '../../shared/ui/differences';
import { Loading, Problem } from '../../shared/ui/parts';
import type { Draft } from './api';
import { t } from './texts';

/** What a component holds at the source, and what of it differs, before it is picked. */
export function Content({ d, at, component }: { d: Draft; at: string; component: string }) {
  const q = useQuery({
    queryKey: ['components', 'content', d.application, at, d.from, component],
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/components/content', {
          params: { query: { application: d.application, site: at, since: d.from, component } },
        }),
      ),
  });
  if (q.error) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={component} />;
  const c = q.data;
  const heads: [string, string] = [d.from, at];
  return (
    <Box sx={{ my: 1, minWidth: 0 }}>
      {c.parts.map((p) => (
        <Attributes key={p.part} of={`${component} ${p.part}`} list={p.attributes} heads={heads} />
      ))}
      {c.differing.map((r) => (
        <Box key={r.key} sx={{ mt: 1 }}>
          <b>{r.key.replaceAll('"', '')}</b> {r.difference}
          <Attributes of={`${component} ${r.key}`} list={r.attributes} heads={heads} />
        </Box>
      ))}
      <Box component="details" sx={{ mt: 1 }}>
        <Box component="summary" sx={{ cursor: 'pointer', fontSize: 13 }}>
          {t.content.whole}
        </Box>
        {c.text == null ? (
          <Typography variant="body2" color="textSecondary">
            {t.content.hidden}
          </Typography>
        ) : (
          <Box
            component="pre"
            tabIndex={0}
            aria-label={t.content.of(component)}
            sx={{ m: 0, mt: 1, p: 1, fontSize: 12, maxHeight: 320, overflow: 'auto', bgcolor: 'signal.sunken' }}
          >
            {c.text}
          </Box>
        )}
        {c.cut && (
          <Typography variant="caption" color="textSecondary">
            {t.content.cut}
          </Typography>
        )}
      </Box>
    </Box>
  );
}
