import { Box, Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../shared/data/api';
import { roles } from '../../../shared/data/lists';
import { useMissing } from '../../../shared/data/rights';
import { ByHandFields } from '../../../shared/ui/ByHand';
import { Panel } from '../../../shared/ui/parts';
import { changePath, useSetUp, type Stage } from '../api';
import { t } from '../texts';
import { Form } from './Form';
import { Choice, Text, Ticks } from '../../../shared/ui/fields';

type Path = Schemas['PathView'];
type Leg = Schemas['LegView'];
type Quorum = Schemas['QuorumView'];
type Emergency = Schemas['EmergencyView'];

/** What one leg of a path asks before a promotion may run, and how that is changed. */
export function LegGates({ path, leg, stage }: { path: Path; leg: Leg; stage?: Stage }) {
  const name = stage?.name ?? leg.stage;
  return (
    <Panel title={t.gates.title(name)}>
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {(leg.words?.length ? leg.words : [t.gates.nothing]).map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      <LegForm path={path} leg={leg} name={name} production={stage?.role === 'production'} />
    </Panel>
  );
}

function LegForm({ path, leg, name, production }: { path: Path; leg: Leg; name: string; production: boolean }) {
  const [v, set] = useState(leg);
  const act = useSetUp(changePath, ['paths', 'standing', 'promotion', 'promotions', 'history']);
  const may = useMissing('administer', '*', '*');
  const asked = v.approvals ?? [];
  const twice = new Set(asked.map((q) => q.role)).size < asked.length;
  const why = may ?? (twice ? t.gates.roleTwice : production && asked.length === 0 ? t.productionNeeds : undefined);
  const change = (part: Partial<Leg>) => set({ ...v, ...part });
  const outside = v.outside ?? { name: '', address: '', seconds: 0 };
  const closing = v.closing ?? { seconds: 60, notice: '' };
  return (
    <Form
      title={t.gates.change(name)}
      hint={t.gates.hint}
      error={act.error}
      busy={act.isPending}
      why={why}
      save={t.gates.save(name)}
      onSave={() => act.mutate({ ...path, legs: path.legs.map((l) => (l.stage === leg.stage ? v : l)) })}
    >
      <Approvals asked={asked} set={(approvals) => change({ approvals })} />
      <Days label={t.gates.approvalDays} value={v.approvalDays} set={(approvalDays) => change({ approvalDays })} />
      <Days label={t.gates.soakDays} value={v.soakDays} set={(soakDays) => change({ soakDays })} />
      <Text label={t.gates.task} value={v.task ?? ''} width={260} set={(task) => change({ task })} />
      <Ticks
        of={[
          [t.gates.verdict, v.verdict, (verdict) => change({ verdict })],
          [t.gates.everySite, v.everySite, (everySite) => change({ everySite })],
          [t.gates.evidence, v.evidence, (evidence) => change({ evidence })],
          [t.gates.rehearsal, v.rehearsal, (rehearsal) => change({ rehearsal })],
          [t.gates.proof, v.proof, (proof) => change({ proof })],
        ]}
      />
      <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, width: '100%' }}>
        <Box component="legend" sx={{ p: 0 }}>
          {t.gates.apart}
        </Box>
        <Ticks
          of={Object.entries(t.gates.pairs).map(([pair, words]) => [
            words,
            v.apart?.includes(pair),
            (on) => change({ apart: [...(v.apart ?? []).filter((p) => p !== pair), ...(on ? [pair] : [])] }),
          ])}
        />
      </Box>
      <EmergencyFields now={v.emergency} set={(emergency) => change({ emergency })} />
      <Choice
        label={t.gates.whenFailed}
        value={v.whenFailed ?? 'look'}
        of={Object.entries(t.gates.failures)}
        width={420}
        set={(whenFailed) => change({ whenFailed })}
      />
      <Text
        label={t.gates.waitForWork}
        value={String(closing.seconds)}
        type="number"
        width={260}
        set={(n) => change({ closing: { ...closing, seconds: Number(n) } })}
      />
      <Text
        label={t.gates.tellBefore}
        value={String(closing.minutes ?? 0)}
        type="number"
        width={260}
        set={(n) => change({ closing: { ...closing, minutes: Number(n) } })}
      />
      <Text
        label={t.gates.notice}
        value={closing.notice}
        width={420}
        set={(notice) => change({ closing: { ...closing, notice } })}
      />
      <Text
        label={t.gates.outside}
        value={outside.name}
        width={260}
        set={(name) => change({ outside: { ...outside, name, seconds: name ? outside.seconds || 10 : 0 } })}
      />
      {outside.seconds > 0 && (
        <>
          <Text
            label={t.gates.outsideAt}
            value={outside.address}
            width={420}
            set={(address) => change({ outside: { ...outside, address } })}
          />
          <Text
            label={t.gates.outsideSeconds}
            value={String(outside.seconds)}
            type="number"
            width={260}
            set={(n) => change({ outside: { ...outside, seconds: Number(n) } })}
          />
        </>
      )}
      <Choice
        label={t.gates.onward}
        value={v.onward?.how ?? 'by-hand'}
        of={Object.entries(t.gates.onwards)}
        width={420}
        set={(how) => change({ onward: { how } })}
      />
      <ByHandFields of={v.manual ?? []} set={(manual) => change({ manual })} />
    </Form>
  );
}

/** What an emergency may pass; nothing ticked takes away what was allowed. */
function EmergencyFields({ now, set }: { now?: Emergency; set: (next: Emergency) => void }) {
  const e = now ?? { people: 0, owes: [], hours: 24 };
  const change = (owes: string[]) =>
    set({ ...e, owes, people: owes.length === 0 ? 0 : e.people || 2, hours: e.hours || 24 });
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, width: '100%' }}>
      <Box component="legend" sx={{ p: 0 }}>
        {t.gates.emergency}
      </Box>
      <Ticks
        of={Object.entries(t.gates.owable).map(([code, words]) => [
          words,
          e.owes.includes(code),
          (on) => change([...e.owes.filter((o) => o !== code), ...(on ? [code] : [])]),
        ])}
      />
      {e.owes.length > 0 && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 1 }}>
          <Choice
            label={t.gates.people}
            value={String(e.people)}
            of={[
              ['1', '1'],
              ['2', '2'],
            ]}
            set={(n) => set({ ...e, people: Number(n) })}
          />
          <Text
            label={t.gates.hours}
            value={String(e.hours)}
            type="number"
            width={260}
            set={(n) => set({ ...e, hours: Number(n) })}
          />
          <Text
            label={t.gates.tells}
            value={(e.tells ?? []).join(' ')}
            width={260}
            set={(text) => set({ ...e, tells: text.split(/[\s,]/) })}
          />
        </Box>
      )}
    </Box>
  );
}

function Days({ label, value, set }: { label: string; value?: number; set: (days: number) => void }) {
  return <Text label={label} value={String(value ?? 0)} type="number" width={210} set={(v) => set(Number(v))} />;
}

/** One line for each role whose yes is asked for. */
function Approvals({ asked, set }: { asked: Quorum[]; set: (next: Quorum[]) => void }) {
  const known = useQuery(roles()).data ?? [];
  const change = (n: number, part: Partial<Quorum>) => set(asked.map((q, i) => (i === n ? { ...q, ...part } : q)));
  return (
    <Box sx={{ width: '100%', display: 'grid', gap: 1.5 }}>
      {asked.map((q, n) => (
        <Box key={n} role="group" aria-label={t.gates.quorum(n + 1)} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
          <Text
            label={t.gates.count}
            value={String(q.count)}
            type="number"
            width={110}
            set={(v) => change(n, { count: Number(v) })}
          />
          <Choice
            label={t.gates.role}
            value={q.role}
            of={[['', t.gates.anybody], ...known.map((r): [string, string] => [r.key, r.name])]}
            width={260}
            set={(role) => change(n, { role })}
          />
          <Button size="small" onClick={() => set(asked.filter((_, i) => i !== n))}>
            {t.gates.askNoMore}
          </Button>
        </Box>
      ))}
      <Box>
        <Button
          size="small"
          onClick={() =>
            set([...asked, { role: known.find((r) => asked.every((q) => q.role !== r.key))?.key ?? '', count: 1 }])
          }
        >
          {t.gates.askMore}
        </Button>
      </Box>
    </Box>
  );
}
