import { expect, test } from 'vitest';

/** Operations that no page asks for by itself, each with the reason. */
const notByThePages: Record<string, string> = {
  'GET /events': 'a stream, opened by the browser itself',
  'POST /hooks/{application}': 'called by a repository',
  'GET /feeds/{secret}/calendar.ics': 'read by calendar programs, at the address that POST /calendar/feeds shows',
  'GET /history/verify': 'asked with a head that was kept: POST /history/verify',
  'GET /rehearsals/{number}': 'shown with its promotion: GET /rehearsals',
  'GET /proposals/{number}': 'shown with the others: GET /proposals',
  'GET /evidence/{number}': 'shown with its run: GET /evidence',
  'GET /versions/{application}/{number}': 'what a version holds comes by its parts and pages',
  'POST /server/catch-up': 'given by whoever put back records, with the client beside the service',
  'GET /server/newer': 'asked by whoever put back records, with the client beside the service',
  'GET /tokens': 'they stand among the places where one is signed in: GET /people/{login}/keys',
  'DELETE /tokens/{id}': 'one ends them among the places where one is signed in: DELETE /people/{login}/keys/{id}',
};

const [document = ''] = Object.values(
  import.meta.glob<string>('../../../docs/openapi.json', { query: '?raw', import: 'default', eager: true }),
);
const all = JSON.parse(document) as { paths: Record<string, object> };
const operations = Object.entries(all.paths).flatMap(([path, methods]) =>
  Object.keys(methods)
    .filter((m) => ['get', 'post', 'put', 'delete'].includes(m))
    .map((m) => `${m.toUpperCase()} ${path.replace('/api/v1', '')}`),
);

const sources = Object.entries(
  import.meta.glob<string>('../**/*.{ts,tsx}', { query: '?raw', import: 'default', eager: true }),
)
  .filter(([name]) => !/test|testing|schema\.d/.test(name))
  .map(([, text]) => text)
  .join('\n');
const CALL = /client\.(GET|POST|PUT|DELETE)\(\s*'\/api\/v1([^']*)'/g;

/** What pages call, and what their links lead to: a file to save is a link. */
const called = new Set([...sources.matchAll(CALL)].map((m) => `${m[1]} ${m[2]}`));
const linked = [...sources.replace(CALL, '').matchAll(/\/api\/v1(\/[^`'?\s]*)/g)].map((m) =>
  m[1]!.replace(/\$\{[^}]*\}/g, '{}'),
);

const reached = (operation: string) => {
  const [method = '', path = ''] = operation.split(' ');
  const bare = path.replace(/\{[^}]*\}/g, '{}');
  return called.has(operation) || (method === 'GET' && linked.some((l) => l === bare || sameBesidesParts(l, bare)));
};

/** A link may write several parts of an address as one: production/north. */
const sameBesidesParts = (link: string, path: string) =>
  new RegExp(`^${link.replace(/[.*+?^$()|[\]\\]/g, '\\$&').replace(/\{\}/g, '.+')}$`).test(path);

test.each(operations.filter((o) => !(o in notByThePages)))('%s is reached by a page', (operation) => {
  expect(reached(operation)).toBe(true);
});

test('an exception is one, and its reason still holds', () => {
  expect(Object.keys(notByThePages).filter((o) => !operations.includes(o) || called.has(o))).toEqual([]);
});

const [server = ''] = Object.values(
  import.meta.glob<string>('../../../server/src/main/java/plenzo/server/web/Console.java', {
    query: '?raw',
    import: 'default',
    eager: true,
  }),
);
const [app = ''] = Object.values(
  import.meta.glob<string>('./App.tsx', { query: '?raw', import: 'default', eager: true }),
);
const served = [...server.matchAll(/^ {4}"(\/[^"]*)"/gm)].map((m) => m[1]!);
const routes = [...app.matchAll(/<Route path="(\/[^"]*)"/g)].map((m) => m[1]!);

/** A page that is opened by its address, or loaded anew, is answered by the service. */
test.each(routes)('the address %s is served', (route) => {
  const under = (pattern: string) =>
    pattern.endsWith('/**') ? `${route}/`.startsWith(pattern.slice(0, -2)) : route === pattern;

  expect(served.some(under)).toBe(true);
});
