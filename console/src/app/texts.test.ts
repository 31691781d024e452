import ts from 'typescript';
import { expect, test } from 'vitest';

const pages = import.meta.glob<string>(
  ['../features/**/*.tsx', './*.tsx', '../shared/ui/{parts,differences}.tsx', '!../**/*.test.tsx'],
  {
    query: '?raw',
    import: 'default',
    eager: true,
  },
);

/** Words that a page shows and that do not stand in its feature's texts. */
function words(file: string, source: string): string[] {
  const out: string[] = [];
  const look = (node: ts.Node) => {
    const text = ts.isJsxText(node)
      ? node.text
      : ts.isJsxAttribute(node) &&
          /^(label|title|note|alt|placeholder|helperText|aria-label|why)$/.test(node.name.getText()) &&
          node.initializer &&
          ts.isStringLiteral(node.initializer)
        ? node.initializer.text
        : '';
    if (/[A-Za-z]{2}/.test(text)) out.push(text.trim());
    ts.forEachChild(node, look);
  };
  look(ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX));
  return out;
}

test('finds words in a page', () => {
  expect(words('x.tsx', 'const a = <b title="Hello there">some {x} words</b>')).toEqual([
    'Hello there',
    'some',
    'words',
  ]);
});

test('pages show only words of texts.ts', () => {
  expect(Object.keys(pages).length).toBeGreaterThan(30);
  const found = Object.entries(pages).flatMap(([file, source]) => words(file, source).map((w) => `${file}: ${w}`));
  expect(found).toEqual([]);
});
