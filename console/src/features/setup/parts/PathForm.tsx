import { Box, Button } from '@mui/material';
import { useState } from 'react';
import type { Schemas } from '../../../shared/data/api';
import { useMissing } from '../../../shared/data/rights';
import { changePath, savePath, useSetUp, type Stage } from '../api';
import { t } from '../texts';
import { Form } from './Form';
import { Choice, Text } from '../../../shared/ui/fields';

/** Lays a path, or lets versions travel another way from now on. */
export function PathForm({ stages, old }: { stages: Stage[]; old?: Schemas['PathView'] }) {
  const [key, setKey] = useState('');
  const [name, setName] = useState(old?.name ?? '');
  const [source, setSource] = useState(old?.source ?? '');
  const [legs, setLegs] = useState<string[]>(old?.legs.map((l) => l.stage) ?? []);
  const act = useSetUp(old ? changePath : savePath, ['paths', 'standing', 'history'], () => {
    if (old) return;
    setKey('');
    setName('');
    setLegs([]);
  });
  const may = useMissing('administer', '*', '*');
  const why = may ?? (!old && !key ? t.need.key : legs.length === 0 ? t.need.legs : undefined);
  const named = (leg: string) => stages.find((s) => s.key === leg)?.name ?? leg;
  const free = stages.filter((s) => s.role !== 'development' && !legs.includes(s.key));
  return (
    <Form
      title={old ? t.changePath : t.newPath}
      hint={t.pathFormHint}
      error={act.error}
      busy={act.isPending}
      why={why}
      save={old ? t.save.pathChange(old.key) : t.save.path}
      onSave={() =>
        act.mutate({
          key: old?.key ?? key,
          name: name || key,
          source: source || undefined,
          // what is said of no leg is what such a stage is usually asked for
          legs: legs.map((stage) => old?.legs.find((l) => l.stage === stage) ?? { stage }),
          revision: old?.revision,
        })
      }
    >
      {!old && <Text label={t.label.key} value={key} set={setKey} />}
      <Text label={t.label.name} value={name} set={setName} />
      <Choice
        label={t.label.source}
        value={source}
        of={[
          ['', t.paths.packages],
          ...stages.filter((s) => s.role === 'development').map((s): [string, string] => [s.key, s.name]),
        ]}
        width={260}
        set={setSource}
      />
      <Box
        component="ol"
        aria-label={t.label.legs}
        sx={{ m: 0, p: 0, listStyle: 'none', display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}
      >
        {legs.map((leg, n) => (
          <Box component="li" key={leg}>
            {n + 1}. {named(leg)}
            <Button
              size="small"
              aria-label={t.paths.leaveOut(named(leg))}
              onClick={() => setLegs(legs.filter((l) => l !== leg))}
            >
              {t.paths.out}
            </Button>
          </Box>
        ))}
      </Box>
      {free.length > 0 && (
        <Choice
          label={legs.length === 0 ? t.paths.first : t.paths.next}
          value=""
          of={free.map((s) => [s.key, s.name])}
          set={(leg) => setLegs([...legs, leg])}
        />
      )}
    </Form>
  );
}
