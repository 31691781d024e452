import { Box, Button, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { size } from '../../shared/time';
import { Act, Download, Panel, Problem, State, Time } from '../../shared/ui/parts';
import { evidence, type Run } from './api';
import { t } from './texts';

type Evidence = Schemas['EvidenceView'];

/** Files that show what was tried or done in a run; test reports say what they say. */
export function EvidencePart({ r }: { r: Run }) {
  const all = useQuery(evidence(r.number));
  const items = all.data?.items ?? [];
  return (
    <Panel title={t.evidence.title}>
      <Problem error={all.error} />
      {items.length === 0 && !all.isPending && <Typography color="textSecondary">{t.evidence.none}</Typography>}
      {items.map((e) => (
        <One key={e.number} e={e} />
      ))}
      <Give number={r.number} />
    </Panel>
  );
}

function One({ e }: { e: Evidence }) {
  const report = e.report;
  return (
    <Box sx={{ mb: 1.5, overflowWrap: 'anywhere' }}>
      <Download href={`/api/v1/evidence/${e.number}/file`}>
        {e.number} {e.name}
      </Download>{' '}
      <Typography component="span" variant="body2" color="textSecondary">
        {size(e.bytes)}, {t.evidence.by(e.by)} <Time at={e.at} />
        {e.step > 0 && t.evidence.ofStep(e.step)}
      </Typography>
      {e.about && <div>{e.about}</div>}
      {report && (
        <>
          <div>
            <State word={report.passed ? 'good' : 'failed'} /> {report.words}
          </div>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {report.failed.map((f, n) => (
              <li key={n}>
                {f.suite} {f.test}: {f.message}
              </li>
            ))}
          </ul>
        </>
      )}
    </Box>
  );
}

function Give({ number }: { number: string }) {
  const queries = useQueryClient();
  const chooser = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File>();
  const [about, setAbout] = useState('');
  const give = useMutation({
    mutationFn: (f: File) =>
      unwrap(
        client.PUT('/api/v1/evidence', {
          params: { query: { run: number, name: f.name, about } },
          headers: { 'Content-Type': 'application/octet-stream' },
          body: f as never,
          bodySerializer: (b) => b as never,
        }),
      ),
    onSuccess: () => {
      setFile(undefined);
      setAbout('');
      void queries.invalidateQueries({ queryKey: ['evidence', number] });
      void queries.invalidateQueries({ queryKey: ['promotions'] });
    },
  });
  return (
    <Box component="details" sx={{ mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1 }}>
        {t.evidence.give}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.evidence.hint}
      </Typography>
      <Problem error={give.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Button variant="outlined" onClick={() => chooser.current?.click()}>
          {file ? file.name : t.evidence.choose}
        </Button>
        <input
          ref={chooser}
          type="file"
          hidden
          aria-label={t.evidence.file}
          onChange={(e) => setFile(e.target.files?.[0])}
        />
        <TextField size="small" label={t.evidence.about} value={about} onChange={(e) => setAbout(e.target.value)} />
        <Act
          kind="outlined"
          why={file ? undefined : t.evidence.chooseFirst}
          busy={give.isPending}
          onClick={() => file && give.mutate(file)}
        >
          {t.evidence.add}
        </Act>
      </Box>
    </Box>
  );
}
