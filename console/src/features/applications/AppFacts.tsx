import { Box, Checkbox, FormControlLabel, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { paths } from '../../shared/data/lists';
import { useMissing } from '../../shared/data/rights';
import { Act, Facts, Panel, Problem, Time } from '../../shared/ui/parts';
import { line } from './api';
import { Retire } from './Retire';
import { t } from './texts';

type App = Schemas['ApplicationView'];

/** What the application is for, who owns and supports it, and what its source has that is in no version. */
export function AppFacts({ app, stages }: { app: App; stages: Schemas['StageView'][] }) {
  const queries = useQueryClient();
  const standing = useQuery(line(app.key));
  const seen = standing.data?.seen;
  const look = useMutation({
    mutationFn: () =>
      unwrap(client.POST('/api/v1/applications/{key}/look-at-source', { params: { path: { key: app.key } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['standing'] }),
  });
  const called = stages.filter((s) => app.support[s.key]).map((s) => `${s.name}: ${app.support[s.key]}`);
  return (
    <Panel title={t.factsTitle}>
      <Problem error={look.error} />
      <Facts
        list={[
          [t.is.description, app.description],
          [t.is.owner, app.owner],
          [t.is.retired, app.retired && t.retire.was(app.retired.by, app.retired.reason)],
          [t.is.support, called.join('; ')],
          [t.is.space, app.schema],
          [t.is.further, app.furtherSchemas.join(', ')],
          [t.is.path, app.paths.join(', ')],
          [t.is.repository, app.repository && t.appFacts.branch(app.repository, app.repositoryBranch)],
          [
            t.is.source,
            <span key="s">
              {seen?.against ? (
                <>
                  {t.appFacts.looked(t.source(seen.changed, seen.against))}
                  <Time at={seen.lookedAt} />
                </>
              ) : (
                t.notLooked
              )}
              {seen?.trouble && <Box sx={{ color: 'var(--mui-palette-signal-caution)' }}>{seen.trouble}</Box>}
              {seen?.warning && <Box sx={{ color: 'var(--mui-palette-signal-caution)' }}>{seen.warning}</Box>}
            </span>,
          ],
          [
            t.is.id,
            <code key="i" style={{ overflowWrap: 'anywhere' }}>
              {app.id}
            </code>,
          ],
        ]}
      />
      <Box sx={{ mt: 1.5 }}>
        <Act kind="outlined" busy={look.isPending} onClick={() => look.mutate()}>
          {t.lookNow}
        </Act>
      </Box>
      <Change app={app} stages={stages} />
      <Retire app={app} />
    </Panel>
  );
}

function Change({ app, stages }: { app: App; stages: Schemas['StageView'][] }) {
  const queries = useQueryClient();
  const [f, set] = useState({ name: app.name, owner: app.owner, description: app.description });
  const [further, setFurther] = useState(app.furtherSchemas.join(', '));
  const [support, setSupport] = useState<Record<string, string>>(app.support);
  const [ways, setWays] = useState(app.paths);
  const known = useQuery(paths()).data ?? [];
  const may = useMissing('administer', '*', app.key);
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        client.PUT('/api/v1/applications/{key}', {
          params: { path: { key: app.key } },
          body: {
            ...f,
            paths: ways,
            furtherSchemas: further
              .split(',')
              .map((x) => x.trim())
              .filter(Boolean),
            support: Object.fromEntries(Object.entries(support).filter(([, who]) => who.trim())),
          },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['applications'] }),
  });
  return (
    <Box component="details" sx={{ mt: 1.5 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600, mb: 1.5 }}>
        {t.changeFacts}
      </Box>
      <Problem error={save.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
        {(['name', 'owner'] as const).map((k) => (
          <TextField
            key={k}
            size="small"
            label={t.label[k]}
            value={f[k]}
            onChange={(e) => set({ ...f, [k]: e.target.value })}
          />
        ))}
        <TextField
          size="small"
          label={t.is.further}
          helperText={t.furtherHint}
          value={further}
          onChange={(e) => setFurther(e.target.value)}
        />
        <TextField
          size="small"
          multiline
          label={t.label.description}
          value={f.description}
          onChange={(e) => set({ ...f, description: e.target.value })}
          sx={{ flex: '1 1 320px' }}
        />
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mb: 1.5 }}>
        {stages.map((s) => (
          <TextField
            key={s.key}
            size="small"
            label={t.support(s.name)}
            value={support[s.key] ?? ''}
            onChange={(e) => setSupport({ ...support, [s.key]: e.target.value })}
            sx={{ minWidth: 240 }}
          />
        ))}
      </Box>
      <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mb: 1.5 }}>
        <Box component="legend" sx={{ p: 0 }}>
          {t.is.path}
        </Box>
        {[...ways, ...known.map((p) => p.key).filter((key) => !ways.includes(key))].map((key) => (
          <FormControlLabel
            key={key}
            control={
              <Checkbox
                checked={ways.includes(key)}
                onChange={(e) => setWays(e.target.checked ? [...ways, key] : ways.filter((w) => w !== key))}
              />
            }
            label={key}
          />
        ))}
      </Box>
      <Act
        kind="outlined"
        why={may ?? (ways.length === 0 ? t.needsPath : undefined)}
        busy={save.isPending}
        onClick={() => save.mutate()}
      >
        {t.saveFacts}
      </Act>
    </Box>
  );
}
