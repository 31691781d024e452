import { Checkbox, FormControlLabel } from '@mui/material';
import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { Panel } from '../../../shared/ui/parts';
import { saveStage, useSetUp, type Stage } from '../api';
import { t } from '../texts';
import { Form } from './Form';
import { Choice, Text } from '../../../shared/ui/fields';

const roles: [string, string][] = Object.entries(t.role);

/** What a stage is called and what a hand edit does there; used for a new one and for changing one. */
export function StageForm({
  title,
  save,
  stage,
  keyed,
  after,
}: {
  title: string;
  save: string;
  stage: Stage;
  keyed: boolean;
  after?: (key: string) => void;
}) {
  const [s, set] = useState(stage);
  const act = useSetUp(saveStage, ['stages'], () => {
    if (keyed) set(stage);
    after?.(s.key);
  });
  const may = useMissing('administer', '*', '*');
  const why = may ?? (!s.key ? t.need.key : !s.name ? t.need.name : undefined);
  const change = (part: Partial<Stage>) => set({ ...s, ...part });
  return (
    <Form
      title={title}
      error={act.error}
      busy={act.isPending}
      why={why}
      save={save}
      onSave={() => act.mutate(keyed ? { ...s, position: stage.position } : s)}
    >
      {keyed && <Text label={t.label.key} value={s.key} set={(key) => change({ key })} />}
      <Text label={t.label.name} value={s.name} set={(name) => change({ name })} />
      {keyed && <Choice label={t.label.role} value={s.role} of={roles} width={360} set={(role) => change({ role })} />}
      <Text label={t.label.zone} value={s.zone} set={(zone) => change({ zone })} />
      <FormControlLabel
        control={<Checkbox checked={s.driftCloses} onChange={(e) => change({ driftCloses: e.target.checked })} />}
        label={t.label.driftCloses}
      />
    </Form>
  );
}

/** What somebody typed stays when other stages come to be known; the place is that of when it is saved. */
export function NewStage({ next, after }: { next: number; after?: (key: string) => void }) {
  const empty: Stage = {
    key: '',
    name: '',
    role: 'test',
    position: next,
    zone: 'UTC',
    driftCloses: false,
    sites: [],
    revision: 0,
  };
  return (
    <Panel>
      <StageForm title={t.newStage} save={t.save.stage} stage={empty} keyed after={after} />
    </Panel>
  );
}
