import { useState } from 'react';
import { useMissing } from '../../../shared/data/rights';
import { changeSite, newSite, useSetUp, type Connection, type Site, type Stage } from '../api';
import { t } from '../texts';
import { Form } from './Form';
import { Choice, Text, Ticks } from '../../../shared/ui/fields';

/** A new site, or where the targets of one that is there lead. */
export function SiteForm({ s, names, old }: { s: Stage; names: Connection[]; old?: Site }) {
  const was = (sort: string) => old?.targets.find((x) => x.sort === sort);
  const base = was('postgresql');
  const [key, setKey] = useState(old?.key ?? '');
  const [schemas, setSchemas] = useState(base?.schemas.join(', ') ?? '');
  const [accounts, setAccounts] = useState({
    looking: base?.looking ?? '',
    changing: base?.changing ?? '',
    scratch: base?.scratch ?? '',
  });
  const [others, setOthers] = useState({
    directory: was('directory')?.looking ?? '',
    host: was('host')?.looking ?? '',
  });
  const [out, setOut] = useState(base?.doors?.names.join(', ') ?? '');
  const [end, setEnd] = useState(base?.doors?.end ?? false);
  const [file, setFile] = useState(was('directory')?.doors?.names[0] ?? '');
  const act = useSetUp(old ? changeSite : newSite, ['stages', 'connections', 'standing', 'promotions']);
  const may = useMissing('administer', s.key, '*');
  const listed = (text: string) =>
    text
      .split(',')
      .map((x) => x.trim())
      .filter(Boolean);
  const list = listed(schemas);
  const keptOut = listed(out);
  const database = accounts.looking !== '';
  const why =
    may ??
    (!key
      ? t.need.key
      : !database && !others.directory && !others.host
        ? t.need.target
        : database && list.length === 0
          ? t.need.schemas
          : undefined);
  const of = (sort: string): [string, string][] => [
    ['', t.label.none],
    ...names.filter((n) => n.sort === sort).map((n): [string, string] => [n.name, n.name]),
  ];
  const source = s.role === 'development';
  const whole = (name: string, sort: string, connection: string) => ({
    id: was(sort)?.id,
    key: was(sort)?.key ?? name,
    sort,
    schemas: [],
    looking: connection,
    changing: source ? '' : connection,
    scratch: '',
  });
  const targets = [
    ...(database
      ? [
          {
            id: base?.id,
            key: base?.key ?? 'database',
            sort: 'postgresql',
            schemas: list,
            ...accounts,
            ...(keptOut.length > 0 && { doors: { names: keptOut, end } }),
          },
        ]
      : []),
    ...(others.directory
      ? [
          {
            ...whole('files', 'directory', others.directory),
            ...(file && { doors: { names: [file], end: false } }),
          },
        ]
      : []),
    ...(others.host ? [whole('host', 'host', others.host)] : []),
  ];
  return (
    <Form
      title={old ? t.changeSite(`${s.key}/${old.key}`) : t.newSite}
      hint={old ? t.changeSiteHint : t.siteHint}
      error={act.error}
      busy={act.isPending}
      why={why}
      save={old ? t.save.siteTargets(`${s.key}/${old.key}`) : t.save.site}
      onSave={() => act.mutate({ stage: s.key, site: { key, targets } })}
    >
      {!old && <Text label={t.label.site} value={key} set={setKey} />}
      {(['looking', 'changing', 'scratch'] as const).map((use) => (
        <Choice
          key={use}
          label={t.label[use]}
          value={accounts[use]}
          of={of('postgresql')}
          width={140}
          set={(v) => setAccounts({ ...accounts, [use]: v })}
        />
      ))}
      <Text label={t.label.schemas} value={schemas} set={setSchemas} width={240} />
      {(['directory', 'host'] as const).map((sort) => (
        <Choice
          key={sort}
          label={t.sorts[sort] ?? sort}
          value={others[sort]}
          of={of(sort)}
          set={(v) => setOthers({ ...others, [sort]: v })}
        />
      ))}
      {!source && database && (
        <>
          <Text label={t.label.keepOut} value={out} set={setOut} width={240} />
          <Ticks of={[[t.label.endSessions, end, setEnd]]} />
        </>
      )}
      {!source && others.directory !== '' && <Text label={t.label.closedFile} value={file} set={setFile} width={240} />}
    </Form>
  );
}
