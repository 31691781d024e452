import { Box, Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { client, unwrap } from '../../shared/data/api';
import { Empty, Go, Loading, PageTitle, Panel, Problem, State } from '../../shared/ui/parts';
import { t } from './texts';

/** What whoever is woken by a run must know, in a fixed order; readable on the narrowest screen. */
export default function NightPage() {
  const { number = '' } = useParams();
  const [copied, setCopied] = useState(false);
  const q = useQuery({
    queryKey: ['runs', number, 'night'],
    queryFn: () => unwrap(client.GET('/api/v1/runs/{number}/night', { params: { path: { number } } })),
    refetchInterval: 30_000,
  });
  const n = q.data;
  if (!n) return q.error ? <Problem error={q.error} /> : <Loading what={t.night.title(number)} />;
  const copy = async () => {
    await navigator.clipboard.writeText(n.text);
    setCopied(true);
  };
  return (
    <>
      <PageTitle title={t.night.title(n.run)} note={n.sentence ?? undefined} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mb: 2 }}>
        <State word={n.state} strong />
        <Button variant="outlined" size="small" onClick={copy}>
          {t.night.copy}
        </Button>
        {copied && <span role="status">{t.night.copied}</span>}
        <Go to={`/runs/${n.run}`}>{t.night.steps}</Go>
      </Box>
      <Panel title={t.night.users}>{n.users}.</Panel>
      <Panel title={t.night.targets}>
        <Lines>
          {n.targets.map((h) => (
            <li key={h.target}>
              {h.target}: <b>{h.words}</b>
            </li>
          ))}
        </Lines>
      </Panel>
      <Panel title={t.night.ways}>
        <p style={{ marginTop: 0 }}>
          <b>{t.night.on}</b> {n.on || t.night.nothing}
        </p>
        <b>{t.night.back}</b> {n.noWays}
        <Lines>
          {n.ways.map((w) => (
            <li key={w.way}>
              <b>{w.way}</b> {w.words}
            </li>
          ))}
        </Lines>
      </Panel>
      <Panel title={t.night.hands}>
        {n.hands.length === 0 && <Empty>{t.night.nobody}</Empty>}
        <Lines>
          {n.hands.map((h) => (
            <li key={h.login}>
              <b>{h.login}</b> {h.name !== h.login && h.name} {h.how}
            </li>
          ))}
        </Lines>
      </Panel>
      {n.called.length > 0 && (
        <Panel title={t.night.called}>
          <Lines>
            {n.called.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </Lines>
        </Panel>
      )}
    </>
  );
}

function Lines({ children }: { children: React.ReactNode }) {
  return <ul style={{ margin: '4px 0 0', paddingLeft: 18, overflowWrap: 'anywhere' }}>{children}</ul>;
}
