import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Act, Empty, Go, Loading, Panel, Problem, Rows, State } from '../../shared/ui/parts';
import { t } from './texts';

type Input = Schemas['InputView'];

/** What each site gives the declared inputs of the newest version; what is missing is said before a run. */
export function Bindings({
  application,
  sites,
  only,
}: {
  application: string;
  sites: string[];
  /** One input alone. */
  only?: string;
}) {
  const [chosen, setChosen] = useState('');
  const site = chosen || sites[sites.length - 1] || '';
  const inputs = useQuery({
    queryKey: ['inputs', application, site],
    enabled: site !== '',
    queryFn: () =>
      unwrap(
        client.GET('/api/v1/applications/{key}/inputs', { params: { path: { key: application }, query: { site } } }),
      ),
  });
  if (sites.length === 0) return null;
  return (
    <Panel
      title={t.inputs}
      action={
        <TextField
          select
          size="small"
          label={t.inputsAt}
          value={site}
          onChange={(e) => setChosen(e.target.value)}
          sx={{ minWidth: 180 }}
        >
          {sites.map((s) => (
            <MenuItem key={s} value={s}>
              {s}
            </MenuItem>
          ))}
        </TextField>
      }
    >
      <Problem error={inputs.error} />
      {!inputs.data ? (
        !inputs.error && <Loading what={t.bindings.inputs} />
      ) : inputs.data.length === 0 ? (
        <Empty>{t.noInputs}</Empty>
      ) : (
        <>
          <Rows label={t.inputs} heads={t.inputHeads}>
            {inputs.data
              .filter((i) => !only || i.name === only)
              .map((i) => (
                <One key={`${i.name} ${i.revision} ${site}`} i={i} application={application} site={site} />
              ))}
          </Rows>
          <Give
            application={application}
            where={site}
            waits={inputs.data.some((i) => ['waiting', 'never', 'left'].includes(i.given))}
          />
        </>
      )}
    </Panel>
  );
}

/** Opens a plan that gives the host its values, beside no version. */
function Give({ application, where, waits }: { application: string; where: string; waits: boolean }) {
  const navigate = useNavigate();
  const [stage = '', site = ''] = where.split('/');
  const may = useMissing('prepare', stage, application);
  const give = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/records/{application}/{stage}/{site}/values', {
          params: { path: { application, stage, site } },
          body: {},
        }),
      ),
    onSuccess: (p) => navigate(`/promotions/${p.number}`),
  });
  return (
    <Box sx={{ mt: 2 }}>
      <Problem error={give.error} />
      <Act
        kind="outlined"
        why={may ?? (waits ? undefined : t.nothingWaits)}
        busy={give.isPending}
        onClick={() => give.mutate()}
      >
        {t.giveNow(where)}
      </Act>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        {t.giveHint}
      </Typography>
    </Box>
  );
}

function One({ i, application, site }: { i: Input; application: string; site: string }) {
  const queries = useQueryClient();
  const [value, setValue] = useState('');
  const stage = site.split('/')[0] ?? '';
  const may = useMissing('operate', stage, application);
  const here = i.boundAt === site;
  const bind = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/bindings', {
          body: {
            application,
            place: site,
            input: i.name,
            value: i.type === 'connection' ? undefined : value,
            connection: i.type === 'connection' ? value : undefined,
            secret: i.secret && i.type !== 'connection',
            revision: here ? i.revision : 0,
          },
        }),
      ),
    onSuccess: () => Promise.all(['inputs', 'promotions'].map((k) => queries.invalidateQueries({ queryKey: [k] }))),
  });
  return (
    <tr>
      <td>
        <Go to={`/applications/${application}/values/${stage}/${i.name}`}>{i.name}</Go>
        <Typography variant="caption" component="div" color="textSecondary">
          {i.type}
          {i.secret ? t.bindings.secret : ''}
          {i.description ? `: ${i.description}` : ''}
        </Typography>
      </td>
      <td>
        <State word={i.state} />
        {i.note && <div>{i.note}</div>}
        {i.given && (
          <Typography variant="caption" component="div" color="textSecondary">
            {t.given[i.given]}
          </Typography>
        )}
      </td>
      <td style={{ overflowWrap: 'anywhere' }}>
        {i.value ?? i.fallback ?? ''}
        {i.boundAt && (
          <Typography variant="caption" component="div" color="textSecondary">
            {t.setAt(i.boundAt, i.setBy ?? '')}
          </Typography>
        )}
      </td>
      <td style={{ overflowWrap: 'anywhere' }}>{i.neededBy.join(', ')}</td>
      <td>
        <Problem error={bind.error} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
          <TextField
            size="small"
            type={i.secret ? 'password' : 'text'}
            autoComplete={i.secret ? 'new-password' : 'off'}
            label={i.type === 'connection' ? t.connectionName : t.newValue}
            value={value}
            onChange={(e) => setValue(e.target.value)}
            sx={{ width: 220 }}
          />
          <Act
            kind="outlined"
            why={may ?? (value ? undefined : t.giveValue)}
            busy={bind.isPending}
            onClick={() => bind.mutate()}
          >
            {t.bind(i.name)}
          </Act>
        </Box>
        {i.boundAt && <Clear i={i} application={application} place={i.boundAt} may={may} />}
      </td>
    </tr>
  );
}

/** What is set no more the host keeps until a plan has it forget it; that is said before. */
function Clear({
  i,
  application,
  place,
  may,
}: {
  i: Input;
  application: string;
  place: string;
  may: string | undefined;
}) {
  const queries = useQueryClient();
  const [sure, setSure] = useState(false);
  const clear = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/bindings/clear', { body: { application, place, input: i.name, revision: i.revision } }),
      ),
    onSuccess: () => Promise.all(['inputs', 'promotions'].map((k) => queries.invalidateQueries({ queryKey: [k] }))),
  });
  return (
    <Box sx={{ mt: 1 }}>
      <Problem error={clear.error} />
      {sure && <Typography variant="body2">{t.clear.means}</Typography>}
      <Act
        kind="outlined"
        fault={sure}
        why={may}
        busy={clear.isPending}
        onClick={() => (sure ? clear.mutate() : setSure(true))}
      >
        {sure ? t.clear.really(i.name, place) : t.clear.act(i.name)}
      </Act>
    </Box>
  );
}
