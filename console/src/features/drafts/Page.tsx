import { Box } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { Loading, PageTitle, Problem } from '../../shared/ui/parts';
import { Underway } from '../../shared/ui/Underway';
import { draft, useActing } from './api';
import { Chosen } from './Chosen';
import { Discard } from './Discard';
import { Seal } from './Seal';
import { Source } from './Source';
import { t } from './texts';
import { Trial } from './Trial';

/** Left what changed at the source, right what is chosen, brought along and left behind. */
export default function DraftPage() {
  const { id = '' } = useParams();
  const q = useQuery(draft(id));
  const busy = useActing(id);
  if (q.error) return <Problem error={q.error} />;
  if (!q.data) return <Loading what={id} />;
  const d = q.data;
  return (
    <>
      <PageTitle title={t.page.draftOf(d.id, d.application)} note={<>{t.page.fromBy(d.from, d.author, d.state)}</>} />
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: {
            xs: 'minmax(0, 1fr)',
            md: d.state === 'open' ? 'minmax(0, 1fr) minmax(0, 1fr)' : 'minmax(0, 1fr)',
          },
          gap: 2,
          alignItems: 'start',
        }}
      >
        {d.state === 'open' && <Source d={d} />}
        <Box sx={{ minWidth: 0 }}>
          <Underway about={`draft/${d.id}`} busy={busy} touched={['drafts', 'versions']} />
          <Chosen d={d} />
          {d.state === 'open' && <Trial d={d} />}
          {d.state === 'open' && <Seal d={d} />}
          {d.state === 'open' && <Discard d={d} />}
        </Box>
      </Box>
    </>
  );
}
