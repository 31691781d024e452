import { MenuItem, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { Panel, Problem, Rows } from '../../../shared/ui/parts';
import { savePath, useSetUp, type Stage } from '../api';
import { paths } from '../../../shared/data/lists';
import { t } from '../texts';
import { Choice, Form, Text } from './Form';

/** The ways that versions travel. */
export function Paths({ stages }: { stages: Stage[] }) {
  const all = useQuery(paths());
  const [key, setKey] = useState('');
  const [name, setName] = useState('');
  const [source, setSource] = useState('');
  const [legs, setLegs] = useState<string[]>([]);
  const act = useSetUp(savePath, ['paths'], () => {
    setKey('');
    setName('');
    setLegs([]);
  });
  const may = useMissing('administer', '*', '*');
  const why = may ?? (!key ? t.need.key : !source || legs.length === 0 ? t.need.legs : undefined);
  return (
    <Panel title={t.pathTitle}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {t.pathHint}
      </Typography>
      <Problem error={all.error} />
      {(all.data ?? []).length > 0 && (
        <Rows label={t.pathTitle} heads={[t.label.key, t.label.name, t.label.source, t.label.legs]}>
          {(all.data ?? []).map((p) => (
            <tr key={p.key}>
              <td>
                <b>{p.key}</b>
              </td>
              <td>{p.name}</td>
              <td>{p.source}</td>
              <td>{p.legs.join(t.paths.then)}</td>
            </tr>
          ))}
        </Rows>
      )}
      <Form
        title={t.newPath}
        error={act.error}
        busy={act.isPending}
        why={why}
        save={t.save.path}
        onSave={() => act.mutate({ key, name: name || key, source, legs })}
      >
        <Text label={t.label.key} value={key} set={setKey} />
        <Text label={t.label.name} value={name} set={setName} />
        <Choice
          label={t.label.source}
          value={source}
          of={stages.filter((s) => s.role === 'development').map((s) => [s.key, s.name])}
          set={setSource}
        />
        <TextField
          select
          size="small"
          label={t.label.legs}
          value={legs}
          sx={{ width: 280 }}
          slotProps={{ select: { multiple: true, onChange: (e) => setLegs(e.target.value as unknown as string[]) } }}
        >
          {stages
            .filter((s) => s.role !== 'development')
            .map((s) => (
              <MenuItem key={s.key} value={s.key}>
                {s.name}
              </MenuItem>
            ))}
        </TextField>
      </Form>
    </Panel>
  );
}
