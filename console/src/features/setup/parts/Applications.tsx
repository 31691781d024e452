import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { Empty, Go, Panel, Problem, Rows } from '../../../shared/ui/parts';
import { applications, newApplication, useSetUp } from '../api';
import { paths } from '../../../shared/data/lists';
import { t } from '../texts';
import { Form } from './Form';
import { Choice, Text } from '../../../shared/ui/fields';

const empty = { key: '', name: '', owner: '', schema: '', path: '' };

/** What is versioned and promoted as a unit, and where its first version comes from. */
export function Applications() {
  const all = useQuery(applications());
  const laid = useQuery(paths());
  const [a, set] = useState(empty);
  const act = useSetUp(newApplication, ['applications', 'standing'], () => set(empty));
  const may = useMissing('administer', '*', '*');
  const why = may ?? (!a.key ? t.need.key : !a.schema ? t.need.schema : !a.path ? t.need.path : undefined);
  const text = (key: 'key' | 'name' | 'owner' | 'schema') => (
    <Text label={t.label[key]} value={a[key]} set={(v) => set({ ...a, [key]: v })} />
  );
  return (
    <Panel title={t.applicationsTitle}>
      <Problem error={all.error} />
      {(all.data ?? []).length === 0 ? (
        <Empty>{t.noApplications}</Empty>
      ) : (
        <Rows
          label={t.applicationsTitle}
          heads={[
            t.applications.application,
            t.label.name,
            t.label.owner,
            t.label.schema,
            t.label.path,
            t.applications.firstVersion,
          ]}
        >
          {(all.data ?? []).map((x) => (
            <tr key={x.key}>
              <td>
                <Go to={`/applications/${x.key}`}>{x.key}</Go>
              </td>
              <td>{x.name}</td>
              <td>{x.owner}</td>
              <td>{x.schema}</td>
              <td>{x.paths.join(', ')}</td>
              <td>
                <Go to={`/applications/${x.key}/adopt`}>{t.adopt}</Go>
              </td>
            </tr>
          ))}
        </Rows>
      )}
      <Form
        title={t.newApplication}
        error={act.error}
        busy={act.isPending}
        why={why}
        save={t.save.application}
        onSave={() => act.mutate({ ...a, name: a.name || a.key, owner: a.owner || a.key })}
      >
        {text('key')}
        {text('name')}
        {text('owner')}
        {text('schema')}
        <Choice
          label={t.label.path}
          value={a.path}
          of={(laid.data ?? []).map((p) => [p.key, p.name])}
          set={(path) => set({ ...a, path })}
        />
      </Form>
    </Panel>
  );
}
