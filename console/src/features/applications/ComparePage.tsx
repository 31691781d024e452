import { Box } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { Attributes, RowList, partName } from '../../shared/ui/differences';
import { Empty, Go, Loading, PageTitle, Panel, Problem, Sign } from '../../shared/ui/parts';
import { compared, comparedRows } from './api';
import { t } from './texts';

/** Two versions beside one another; both stand in the address. */
export default function ComparePage() {
  const { application = '', from = '', to = '' } = useParams();
  const q = useQuery(compared(application, from, to));
  if (q.error) return <Problem error={q.error} />;
  const heads: [string, string] = [from, to];
  return (
    <>
      <PageTitle
        title={`${application} ${t.compare(from, to)}`}
        note={
          <>
            {t.compareNote} · <Go to={`/applications/${application}`}>{application}</Go>
          </>
        }
      />
      {!q.data ? (
        <Loading what={t.comparePage.theTwoVersions} />
      ) : q.data.length === 0 ? (
        <Empty>{t.same(from, to)}</Empty>
      ) : (
        q.data.map((c) => {
          const total = c.counts.added + c.counts.changed + c.counts.removed;
          return (
            <Panel key={c.key} title={c.key}>
              {c.parts.map((part) => (
                <Box key={part.part} sx={{ mb: 2 }}>
                  <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}>
                    <Sign of={part.difference} />
                    <b>{partName(part.part)}</b> {part.difference}
                  </Box>
                  <Attributes of={part.part} list={part.attributes} heads={heads} />
                </Box>
              ))}
              {c.key.startsWith('records/') && total > 0 && (
                <RowList
                  difference="different"
                  total={total}
                  heads={heads}
                  load={(at, find) => comparedRows(application, from, to, c.key, at, find)}
                />
              )}
            </Panel>
          );
        })
      )}
    </>
  );
}
