import { Box, Typography } from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { client, unwrap } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { Text } from '../../shared/ui/fields';
import { Act, Panel, Problem } from '../../shared/ui/parts';
import { Hint, useAfter } from './parts';
import { t } from './texts';

/** Takes the names of somebody who left out of all that is stored; the cost is read first. */
export function Blank({ login }: { login: string }) {
  const after = useAfter();
  const may = useMissing('administer', '*', '*');
  const [typed, setTyped] = useState('');
  const path = { params: { path: { login } } };
  const look = useMutation({
    mutationFn: () => unwrap(client.GET('/api/v1/people/{login}/blanking', path)),
  });
  const blank = useMutation({
    mutationFn: () => unwrap(client.POST('/api/v1/people/{login}/blank', path)),
    ...after,
  });
  const o = look.data;
  return (
    <Panel title={t.blank.title}>
      <Hint>{t.blank.hint}</Hint>
      <Problem error={look.error ?? blank.error} />
      {!o ? (
        <Act kind="outlined" why={may} busy={look.isPending} onClick={() => look.mutate()}>
          {t.blank.look}
        </Act>
      ) : (
        <>
          <List title={t.blank.names} of={o.names} />
          <List title={t.blank.inTheWay} of={o.inTheWay} />
          <List title={t.blank.keeps} of={o.keeps} />
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mt: 1.5 }}>
            <Text label={t.blank.type(login)} value={typed} set={setTyped} width={240} />
            <Act
              fault
              why={o.inTheWay[0] ?? (typed === login ? undefined : t.blank.typeFirst)}
              busy={blank.isPending}
              onClick={() => blank.mutate()}
            >
              {t.blank.act(login)}
            </Act>
          </Box>
        </>
      )}
    </Panel>
  );
}

function List({ title, of }: { title: string; of: string[] }) {
  if (of.length === 0) return null;
  return (
    <>
      <Typography component="h3" variant="body2" sx={{ fontWeight: 650, mt: 1 }}>
        {title}
      </Typography>
      <ul style={{ margin: 0, paddingLeft: 18, overflowWrap: 'anywhere' }}>
        {of.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ul>
    </>
  );
}
