import type { Schemas } from '../../shared/data/api';

/** Something that can be gone to. */
export interface Found {
  to: string;
  name: string;
  /** What it is, and of what. */
  about: string;
}

/** What the console knows of, as far as the person may see it. */
export interface KnownThings {
  applications: Schemas['ApplicationView'][];
  versions: Schemas['VersionView'][];
  releases: Schemas['ReleaseView'][];
  people: Schemas['PersonView'][];
}

/** The words for each sort, so that this module needs no texts of its own. */
export interface Sorts {
  application: (owner: string) => string;
  version: string;
  promotion: string;
  run: string;
  draft: string;
  release: string;
  person: string;
}

/** More are no help: one types on. */
export const MOST = 12;

/** Applications whose versions are read at once. */
const ASKED = 20;

/** Numbers that go to a page by themselves: no list has to be asked. */
const numbered: [RegExp, (number: string) => string, keyof Sorts][] = [
  [/^p-?(\d+)$/i, (n) => `P-${n}`, 'promotion'],
  [/^r-?(\d+)$/i, (n) => `R-${n}`, 'run'],
  [/^d-?(\d+)$/i, (n) => `D-${n}`, 'draft'],
];
const folder: Record<string, string> = { promotion: '/promotions', run: '/runs', draft: '/drafts' };

/** How a version's number begins, where that alone was typed: those of every application are meant. */
export const bareNumber = (text: string): string | undefined => /^\d[\w.-]*$/.exec(text.trim())?.[0];

/** Applications whose versions are asked for: the one before an @, or those called so. */
export function whoseVersions(text: string, applications: KnownThings['applications']): string[] {
  const wanted = text.trim().toLowerCase();
  const app = wanted.includes('@') ? wanted.split('@', 1)[0] : undefined;
  return applications
    .map((a) => a.key)
    .filter((k) => (app !== undefined ? k === app : wanted.length > 1 && k.startsWith(wanted)))
    .slice(0, ASKED);
}

/** What was meant, the nearest first: what begins so before what has it inside. */
export function found(text: string, known: KnownThings, sorts: Sorts): Found[] {
  const wanted = text.trim().toLowerCase();
  if (!wanted) return [];
  const out: Found[] = [];
  for (const [pattern, shown, sort] of numbered) {
    const n = pattern.exec(wanted)?.[1];
    if (n) out.push({ to: `${folder[sort]}/${shown(n)}`, name: shown(n), about: String(sorts[sort]) });
  }
  const [app, number] = wanted.includes('@') ? wanted.split('@', 2) : [undefined, wanted];
  const near = (name: string, words = '') => {
    const key = name.toLowerCase();
    return key === wanted
      ? 0
      : key.startsWith(wanted)
        ? 1
        : key.includes(wanted)
          ? 2
          : words.toLowerCase().includes(wanted)
            ? 3
            : -1;
  };
  const ranked: [number, Found][] = [];
  for (const a of known.applications)
    ranked.push([
      near(a.key, `${a.name} ${a.owner}`),
      { to: `/applications/${a.key}`, name: a.key, about: sorts.application(a.owner) },
    ]);
  for (const r of known.releases)
    ranked.push([
      near(r.key, r.title),
      { to: `/releases/${r.key}`, name: r.key, about: `${sorts.release} · ${r.title}` },
    ]);
  for (const p of known.people)
    ranked.push([
      near(p.login, p.name),
      { to: `/setup/people/${p.login}`, name: p.login, about: `${sorts.person} · ${p.name}` },
    ]);
  for (const v of known.versions) {
    const mine = app === undefined || v.application.toLowerCase() === app;
    const at =
      mine && v.number.startsWith(number ?? '')
        ? 1
        : app === undefined && v.application.toLowerCase().startsWith(wanted)
          ? 2
          : app === undefined && v.title.toLowerCase().includes(wanted)
            ? 3
            : -1;
    ranked.push([
      at,
      {
        to: `/versions/${v.application}/${v.number}`,
        name: `${v.application}@${v.number}`,
        about: `${sorts.version} · ${v.title}`,
      },
    ]);
  }
  ranked.sort((a, b) => a[0] - b[0]); // stable: within a rank as they came
  return [...out, ...ranked.filter(([n]) => n >= 0).map(([, f]) => f)].slice(0, MOST);
}
