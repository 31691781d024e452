import { Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { whyNot } from '../../shared/data/rights';
import { Act, Empty, Go, Loading, Panel, Problem, Rows } from '../../shared/ui/parts';
import { t } from './texts';

type Path = { application: string; stage: string; site: string };
type Item = Schemas['LeftOverItem'];

/** What earlier runs left at a site; looked up when somebody asks, for it asks the site. */
export function LeftOver({ path }: { path: Path }) {
  const queries = useQueryClient();
  const [asked, setAsked] = useState(false);
  const key = ['left-over', path.application, path.stage, path.site];
  const q = useQuery({
    queryKey: key,
    enabled: asked,
    queryFn: () => unwrap(client.GET('/api/v1/records/{application}/{stage}/{site}/left-over', { params: { path } })),
  });
  const clear = useMutation({
    mutationFn: (name: string) =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/left-over/clear', {
          params: { path },
          body: { names: [name] },
        }),
      ),
    onSuccess: (v) => {
      queries.setQueryData(key, v);
      return queries.invalidateQueries({ queryKey: ['standing'] });
    },
  });
  return (
    <Panel title={t.over.title}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1, maxWidth: '72ch' }}>
        {t.over.hint}
      </Typography>
      <Problem error={q.error ?? clear.error} />
      {!asked && (
        <Act kind="outlined" onClick={() => setAsked(true)}>
          {t.over.look}
        </Act>
      )}
      {q.isLoading && <Loading what={t.over.title} />}
      {q.data && q.data.items.length === 0 && <Empty>{t.over.nothing}</Empty>}
      {q.data && q.data.items.length > 0 && (
        <Rows label={t.over.title} heads={t.over.heads}>
          {q.data.items.map((i) => (
            <One
              key={`${i.target} ${i.name}`}
              i={i}
              why={whyNot(q.data.may)}
              busy={clear.isPending && clear.variables === i.name}
              clear={() => clear.mutate(i.name)}
            />
          ))}
        </Rows>
      )}
    </Panel>
  );
}

type OneProps = { i: Item; why: string | undefined; busy: boolean; clear: () => void };

function One({ i, why, busy, clear }: OneProps) {
  const [sure, setSure] = useState(false);
  const name = i.name.replaceAll('"', '');
  return (
    <tr>
      <td style={{ overflowWrap: 'anywhere' }}>
        {name}
        <br />
        <Typography component="span" variant="caption" color="textSecondary">
          {i.shown}
        </Typography>
      </td>
      <td>{i.target || t.over.kept}</td>
      <td>{i.run && <Go to={`/runs/${i.run}`}>{i.run}</Go>}</td>
      <td style={{ whiteSpace: 'nowrap' }}>
        {i.sort === 'kept' ? '' : i.bytes == null ? t.over.untold : t.over.bytes(i.bytes)}
      </td>
      <td>
        {sure && (
          <Typography variant="body2">{i.sort === 'kept' ? t.over.sureKept(name) : t.over.sure(name)}</Typography>
        )}
        <Act
          kind={sure ? 'contained' : 'outlined'}
          name={t.over.clearOne(name)}
          why={why || i.why || undefined}
          busy={busy}
          onClick={() => (sure ? clear() : setSure(true))}
        >
          {t.over.clear}
        </Act>
      </td>
    </tr>
  );
}
