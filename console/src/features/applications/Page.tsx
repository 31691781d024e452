import { TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Changes } from '../../shared/ui/Changes';
import { Act, Empty, Go, Loading, PageTitle, Panel, Problem, Rows, State, Time } from '../../shared/ui/parts';
import { paths, stages, versions } from '../../shared/data/lists';
import { application } from './api';
import { AppFacts } from './AppFacts';
import { Bindings } from './Bindings';
import { PathPicture } from './PathPicture';
import { Questions } from './Questions';
import { Copies } from './Copies';
import { Repository } from './Repository';
import { Sites } from './Sites';
import { t } from './texts';

/** An application: its versions, where each is, and what is kept private. */
export default function ApplicationPage() {
  const { application: key = '' } = useParams();
  const app = useQuery(application(key));
  const all = useQuery(versions(key));
  const places = useQuery(stages());
  const ways = useQuery(paths()).data ?? [];
  const legs = [
    ...new Set(
      (app.data?.paths ?? []).flatMap((key) => ways.find((p) => p.key === key)?.legs.map((l) => l.stage) ?? []),
    ),
  ];
  const sites = (places.data ?? [])
    .filter((s) => legs.includes(s.key))
    .flatMap((s) => s.sites.map((x) => `${s.key}/${x.key}`));
  if (app.error) return <Problem error={app.error} />;
  if (app.isPending) return <Loading what={key} />;
  return (
    <>
      <PageTitle title={t.title(key)} note={app.data && t.owner(app.data.name, app.data.owner)} />
      <PathPicture application={key} legs={legs} stages={places.data ?? []} />
      {app.data && <AppFacts key={JSON.stringify(app.data)} app={app.data} stages={places.data ?? []} />}
      <Panel title={t.versions} action={<Go to={`/applications/${key}/adopt`}>{t.adopt}</Go>}>
        <Problem error={all.error} />
        {!all.data ? (
          <Loading what={t.page.versions} />
        ) : all.data.length === 0 ? (
          <Empty>{t.none}</Empty>
        ) : (
          <Rows label={t.versions} heads={t.heads}>
            {all.data.map((v) => (
              <Line key={v.number} v={v} />
            ))}
          </Rows>
        )}
      </Panel>
      <Sites application={key} />
      <div id="values">
        <Bindings application={key} sites={sites} />
      </div>
      {app.data && <Repository application={key} />}
      {app.data && <Copies application={key} />}
      {app.data && <Questions key={`${app.data.revision} asked`} app={app.data} />}
      {app.data && <Private key={app.data.privateColumns.join()} app={app.data} />}
      <Changes of={`application/${key}`} />
    </>
  );
}

function Line({ v }: { v: Schemas['VersionView'] }) {
  return (
    <tr>
      <td>
        <Go to={`/versions/${v.application}/${v.number}`}>{v.number}</Go>
        {v.withdrawn && ` (${t.withdrawn})`}
      </td>
      <td>{v.parent}</td>
      <td style={{ overflowWrap: 'anywhere' }}>{v.title}</td>
      <td>
        <Time at={v.sealedAt} />
      </td>
      <td>
        {v.presentAt.map((p) => (
          <div key={p.site}>
            {p.site}
            {p.verdict === 'bad' && (
              <>
                {' '}
                <State word={t.page.judgedBad} />
              </>
            )}
          </div>
        ))}
      </td>
      <td>{v.parent && <Go to={`/versions/${v.application}/${v.parent}/compare/${v.number}`}>{t.compareWith}</Go>}</td>
    </tr>
  );
}

function Private({ app }: { app: Schemas['ApplicationView'] }) {
  const queries = useQueryClient();
  const [text, setText] = useState(app.privateColumns.join('\n'));
  const may = useMissing('administer', '*', app.key);
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        client.PUT('/api/v1/applications/{key}', {
          params: { path: { key: app.key } },
          body: {
            privateColumns: text
              .split('\n')
              .map((x) => x.trim())
              .filter(Boolean),
          },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['applications'] }),
  });
  return (
    <Panel title={t.privateTitle}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5, maxWidth: '72ch' }}>
        {t.privateHint}
      </Typography>
      <Problem error={save.error} />
      <TextField
        multiline
        minRows={2}
        size="small"
        label={t.privateLabel}
        value={text}
        onChange={(e) => setText(e.target.value)}
        sx={{ width: '100%', maxWidth: 480, mb: 1.5, display: 'block' }}
        fullWidth
      />
      <Act kind="outlined" why={may} busy={save.isPending} onClick={() => save.mutate()}>
        {t.savePrivate}
      </Act>
    </Panel>
  );
}
