import { Box, Typography } from '@mui/material';
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { asSeen, client, unwrap, type Schemas } from '../../shared/data/api';
import { useMissing } from '../../shared/data/rights';
import { full } from '../../shared/time';
import { Text } from '../../shared/ui/fields';
import { Act, Empty, PageTitle, Panel, Problem, Rows, State } from '../../shared/ui/parts';
import { SetupParts } from '../../shared/ui/SetupParts';
import { t } from './texts';

type Webhook = Schemas['WebhookView'];

const webhooks = () =>
  queryOptions({ queryKey: ['telling', 'webhooks'], queryFn: () => unwrap(client.GET('/api/v1/webhooks')) });
const deliveries = () =>
  queryOptions({
    queryKey: ['telling', 'deliveries'],
    queryFn: () => unwrap(client.GET('/api/v1/deliveries')),
    refetchInterval: 5_000,
  });

function useAgain() {
  const queries = useQueryClient();
  return () => void queries.invalidateQueries({ queryKey: ['telling'] });
}

/** Who outside is told what, and what came of it. */
export default function TellingPage() {
  const all = useQuery(webhooks());
  return (
    <>
      <PageTitle title={t.title} note={t.note} />
      <SetupParts />
      <Panel>
        <Typography variant="body2" color="textSecondary" sx={{ maxWidth: '72ch', mb: 1 }}>
          {t.hint}
        </Typography>
        <Problem error={all.error} />
        {all.data?.length === 0 && <Empty>{t.none}</Empty>}
        {(all.data?.length ?? 0) > 0 && (
          <Rows label={t.title} heads={t.heads}>
            {all.data?.map((w) => (
              <One key={w.name} w={w} />
            ))}
          </Rows>
        )}
        <Add />
      </Panel>
      <Deliveries />
    </>
  );
}

function follows(w: Webhook): string {
  return w.active
    ? (w.events.length ? w.events.join(', ') : t.everything) +
        (w.applications.length ? t.of(w.applications.join(', ')) : '') +
        (w.stages.length ? t.at(w.stages.join(', ')) : '')
    : t.off;
}

function One({ w }: { w: Webhook }) {
  const again = useAgain();
  const may = useMissing('administer', '*', '*');
  const change = useMutation({
    mutationFn: () =>
      unwrap(
        client.PUT('/api/v1/webhooks/{name}', {
          params: { path: { name: w.name } },
          body: { ...w, active: !w.active },
          ...asSeen(w.revision),
        }),
      ),
    onSettled: again,
  });
  const remove = useMutation({
    mutationFn: () => unwrap(client.DELETE('/api/v1/webhooks/{name}', { params: { path: { name: w.name } } })),
    onSettled: again,
  });
  return (
    <tr>
      <td>{w.name}</td>
      <td style={{ overflowWrap: 'anywhere' }}>{w.address}</td>
      <td>{follows(w)}</td>
      <td>
        <Problem error={change.error ?? remove.error} />
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
          <Act kind="outlined" why={may} busy={change.isPending} onClick={() => change.mutate()}>
            {w.active ? t.switchOff(w.name) : t.switchOn(w.name)}
          </Act>
          <Act kind="outlined" why={may} busy={remove.isPending} onClick={() => remove.mutate()}>
            {t.remove(w.name)}
          </Act>
        </Box>
      </td>
    </tr>
  );
}

function Add() {
  const again = useAgain();
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const [events, setEvents] = useState('');
  const may = useMissing('administer', '*', '*');
  const act = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST('/api/v1/webhooks', {
          body: {
            name,
            address,
            events: events
              .split(',')
              .map((e) => e.trim())
              .filter(Boolean),
          },
        }),
      ),
    onSuccess: () => {
      setName('');
      setAddress('');
      again();
    },
  });
  return (
    <Box component="details" sx={{ borderTop: '1px solid var(--mui-palette-divider)', pt: 1, mt: 1 }}>
      <Box component="summary" sx={{ cursor: 'pointer', fontWeight: 600 }}>
        {t.add}
      </Box>
      <Problem error={act.error} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', pt: 1 }}>
        <Text label={t.name} value={name} set={setName} />
        <Text label={t.address} value={address} set={setAddress} width={320} />
        <Text label={t.events} value={events} set={setEvents} width={280} />
        <Act
          kind="outlined"
          why={may ?? (name && address ? undefined : t.need)}
          busy={act.isPending}
          onClick={() => act.mutate()}
        >
          {t.save}
        </Act>
      </Box>
      {act.data && (
        <Typography sx={{ mt: 1, overflowWrap: 'anywhere' }}>
          <b>{t.secret(act.data.secret)}</b>
        </Typography>
      )}
    </Box>
  );
}

function Deliveries() {
  const again = useAgain();
  const all = useQuery(deliveries());
  const may = useMissing('administer', '*', '*');
  const replay = useMutation({
    mutationFn: (number: string) =>
      unwrap(client.POST('/api/v1/deliveries/{number}/replay', { params: { path: { number } } })),
    onSettled: again,
  });
  return (
    <Panel title={t.deliveries}>
      <Problem error={all.error ?? replay.error} />
      {all.data?.length === 0 && <Empty>{t.noDeliveries}</Empty>}
      {(all.data?.length ?? 0) > 0 && (
        <Rows label={t.deliveries} heads={t.deliveryHeads}>
          {all.data?.slice(0, 100).map((d) => (
            <tr key={d.number}>
              <td>{d.number}</td>
              <td>{d.webhook}</td>
              <td>{d.event}</td>
              <td>
                <State word={t.states[d.state] ?? d.state} />
              </td>
              <td>{d.tries}</td>
              <td style={{ overflowWrap: 'anywhere' }}>
                {d.said} {d.next && d.tries > 0 && t.again(full(d.next))}
              </td>
              <td>
                <Act kind="outlined" why={may} busy={replay.isPending} onClick={() => replay.mutate(d.number)}>
                  {t.replay(d.number)}
                </Act>
              </td>
            </tr>
          ))}
        </Rows>
      )}
    </Panel>
  );
}
