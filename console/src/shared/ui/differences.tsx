import { Box, Button, TextField, Typography } from '@mui/material';
import { useQueries, useQuery, type UseQueryOptions } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useRef, useState, type ReactNode } from 'react';
import type { ApiError, Schemas } from '../data/api';
import { plural } from '../time';
import { Loading, Problem, Rows, Sign } from './parts';
import { t } from './texts';

export type RowChange = Schemas['RowChange'];

/** Rows that the server gives at once. */
export const CHUNK = 200;

/** Rows in one scrolled list: a browser's elements end at some 33 million pixels. */
const WINDOW = 100_000;

/** Reads a chunk from a row on; with something to find, only rows that contain it. */
export type Load = (
  from: number,
  find: string,
) => UseQueryOptions<Schemas['RowPage'], ApiError | Error, Schemas['RowPage'], readonly unknown[]>;

/** Several lines stand as they were written: code is read by its lines. */
function lined(value: string | null | undefined) {
  return value?.includes('\n')
    ? { whiteSpace: 'pre-wrap', fontFamily: 'ui-monospace, monospace', fontSize: 12, fontWeight: 400 }
    : {};
}

/** The whole of a table or of a definition has no name behind its slash. */
export function partName(part: string) {
  return part.replace(/\/$/, '');
}

/**
 * Attributes that differ, present beside incoming; the new value bold on its tint. Of a conflict, what both had before
 * stands first, and what both together would be last.
 */
export function Attributes({
  of,
  list,
  heads,
  conflict,
  both,
  decide,
}: {
  of: string;
  list: Schemas['AttributeChange'][];
  heads: [string, string];
  conflict?: boolean;
  both?: Schemas['ValueView'][] | null;
  /** What decides one attribute alone; null where nothing is asked of it. */
  decide?: (a: Schemas['AttributeChange']) => ReactNode;
}) {
  if (list.length === 0) return null;
  const before = conflict && list.some((a) => a.base);
  const show = (v: string | null | undefined, absent: boolean) =>
    absent ? (
      <i>{t.differences.notThere}</i>
    ) : v == null ? (
      <i>{t.differences.null}</i>
    ) : v === '' ? (
      <i>{t.differences.empty}</i>
    ) : (
      v
    );
  return (
    <Rows
      pinned
      label={t.differences.whatDiffersIn(of)}
      heads={[
        t.differences.attribute,
        ...(before ? [t.differences.before3] : []),
        ...heads,
        ...(both ? [t.differences.both] : []),
        ...(decide ? [''] : []),
      ]}
    >
      {list.map((a) => (
        <tr key={a.name}>
          <td style={{ fontWeight: 600 }}>{a.name}</td>
          {before && (
            <td style={{ overflowWrap: 'anywhere', ...lined(a.base?.value) }}>
              {a.base ? show(a.base.value, a.base.absent) : '–'}
            </td>
          )}
          <td style={{ overflowWrap: 'anywhere', ...lined(a.present) }}>
            {a.words ? <Words of={a.words.present} as="del" /> : show(a.present, a.presentAbsent)}
          </td>
          <td>
            <Box
              component="span"
              sx={{
                fontWeight: a.words ? 400 : 650,
                overflowWrap: 'anywhere',
                ...lined(a.incoming),
                ...(a.incoming?.includes('\n') ? { display: 'block' } : {}),
                ...(a.incomingAbsent
                  ? {}
                  : {
                      bgcolor: 'var(--mui-palette-signal-cautionT)',
                      borderLeft: '3px solid var(--mui-palette-signal-caution)',
                      px: 0.75,
                    }),
              }}
            >
              {a.words ? <Words of={a.words.incoming} as="ins" /> : show(a.incoming, a.incomingAbsent)}
            </Box>
          </td>
          {both && (
            <td style={{ overflowWrap: 'anywhere', fontWeight: 650 }}>
              {show(both.find((v) => v.name === a.name)?.value, !both.some((v) => v.name === a.name))}
            </td>
          )}
          {decide && <td>{decide(a)}</td>}
        </tr>
      ))}
    </Rows>
  );
}

/** A text with the words that differ: bold and underlined or struck through, so that no colour is needed. */
function Words({ of, as }: { of: Schemas['WordRun'][]; as: 'ins' | 'del' }) {
  return (
    <>
      {of.map((r, n) =>
        r.differs ? (
          <Box key={n} component={as} sx={{ fontWeight: 650, textDecorationThickness: 2, textUnderlineOffset: 3 }}>
            {r.text}
          </Box>
        ) : (
          <span key={n}>{r.text}</span>
        ),
      )}
    </>
  );
}

/** Parts of a structure that are the same on both sides: each value stands once. */
export function SameParts({ load }: { load: Load }) {
  const page = useQuery(load(0, ''));
  if (page.error) return <Problem error={page.error} />;
  if (!page.data) return <Loading what={t.differences.sameParts} />;
  const { items, total } = page.data;
  return (
    <>
      <Typography variant="h3" sx={{ mb: 1 }}>
        {t.differences.partsThatAreTheSame(total, items.length)}
      </Typography>
      {items.length > 0 && (
        <Rows label={t.differences.sameParts} heads={t.differences.sameHeads}>
          {items.map((p) => (
            <tr key={p.key}>
              <td style={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{p.key}</td>
              <td style={{ overflowWrap: 'anywhere' }}>
                {p.attributes.map((a) => `${a.name}: ${a.present}`).join('; ')}
              </td>
            </tr>
          ))}
        </Rows>
      )}
    </>
  );
}

type Extra = (row: RowChange) => ReactNode;

/** All rows of one class: only what is in sight is asked for and drawn, up to the last of a million. */
export function RowList({
  difference,
  total,
  load,
  heads,
  extra,
}: {
  difference: string;
  total: number;
  load: Load;
  heads: [string, string];
  extra?: Extra;
}) {
  const [find, setFind] = useState('');
  const sought = useDeferredValue(find);
  const [part, setPart] = useState(0);
  const parts = Math.ceil(total / WINDOW);
  return (
    <Box component="section" aria-label={`${total} ${difference}`} sx={{ mb: 2 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mb: 1 }}>
        <Typography variant="h3" sx={{ flex: '1 1 160px' }}>
          {total.toLocaleString('en-GB')} {difference}
        </Typography>
        {total > 5 && (
          <TextField
            size="small"
            label={t.differences.findIn(difference)}
            value={find}
            onChange={(e) => setFind(e.target.value)}
            slotProps={{ htmlInput: { 'data-find': true } }}
            sx={{ width: 220 }}
          />
        )}
      </Box>
      {sought ? (
        <Found load={load} find={sought} heads={heads} extra={extra} />
      ) : (
        <>
          {parts > 1 && (
            <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mb: 1, alignItems: 'center' }}>
              <Button size="small" variant="outlined" disabled={part === 0} onClick={() => setPart(part - 1)}>
                {t.differences.before}
              </Button>
              <Typography variant="body2">
                {t.differences.rowsTo(
                  (part * WINDOW + 1).toLocaleString('en-GB'),
                  Math.min(total, (part + 1) * WINDOW).toLocaleString('en-GB'),
                )}
              </Typography>
              <Button size="small" variant="outlined" disabled={part === parts - 1} onClick={() => setPart(part + 1)}>
                {t.differences.next}
              </Button>
              <Button size="small" variant="outlined" disabled={part === parts - 1} onClick={() => setPart(parts - 1)}>
                {t.differences.last}
              </Button>
            </Box>
          )}
          <Scrolled
            key={part}
            from={part * WINDOW}
            total={Math.min(WINDOW, total - part * WINDOW)}
            of={total}
            load={load}
            heads={heads}
            extra={extra}
            difference={difference}
          />
        </>
      )}
    </Box>
  );
}

function Scrolled({
  from,
  total,
  of,
  load,
  heads,
  extra,
  difference,
}: {
  from: number;
  total: number;
  of: number;
  load: Load;
  heads: [string, string];
  extra?: Extra;
  difference: string;
}) {
  const box = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: total,
    getScrollElement: () => box.current,
    estimateSize: () => 108,
    overscan: 6,
  });
  // a few rows are drawn as they are; of many only those in sight
  const few = total <= 6;
  const seen = few
    ? Array.from({ length: total }, (_, index) => ({ index, key: index, start: 0 }))
    : list.getVirtualItems();
  const chunks = [...new Set(seen.map((i) => Math.floor((from + i.index) / CHUNK)))];
  const pages = useQueries({ queries: chunks.map((c) => load(c * CHUNK, '')) });
  const row = (at: number) => pages[chunks.indexOf(Math.floor(at / CHUNK))]?.data?.items[at % CHUNK];
  const failed = pages.find((p) => p.error);
  if (failed?.error) return <Problem error={failed.error} />;
  return (
    <Box
      ref={box}
      tabIndex={0}
      role="list"
      aria-label={t.differences.rowsThatAre(difference)}
      sx={{
        maxHeight: few ? undefined : '60vh',
        overflowY: 'auto',
        borderBottom: few ? 0 : '1px solid var(--mui-palette-divider)',
      }}
    >
      <Box sx={few ? {} : { height: list.getTotalSize(), position: 'relative' }}>
        {seen.map((i) => {
          const r = row(from + i.index);
          return (
            <Box
              key={i.key}
              ref={few ? undefined : list.measureElement}
              data-index={i.index}
              role="listitem"
              aria-posinset={from + i.index + 1}
              aria-setsize={of}
              sx={
                few
                  ? {}
                  : { position: 'absolute', top: 0, left: 0, width: '100%', transform: `translateY(${i.start}px)` }
              }
            >
              {r ? <OneRow r={r} heads={heads} extra={extra} /> : <Loading what={t.differences.rows} />}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

/** What was found, a chunk at a time: how many there are is not known before all were read. */
function Found({ load, find, heads, extra }: { load: Load; find: string; heads: [string, string]; extra?: Extra }) {
  const [from, setFrom] = useState([0]);
  const page = useQuery(load(from[from.length - 1] ?? 0, find));
  if (page.error) return <Problem error={page.error} />;
  if (!page.data) return <Loading what={t.differences.rowsWith(find)} />;
  return (
    <>
      <Typography variant="body2" color="textSecondary" role="status">
        {page.data.items.length === 0
          ? t.differences.noRowContains(find)
          : t.differences.onThisPage(plural(page.data.items.length, 'row', 'rows'))}
      </Typography>
      {page.data.items.map((r) => (
        <OneRow key={r.key} r={r} heads={heads} extra={extra} />
      ))}
      {(page.data.next || from.length > 1) && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
          <Button
            size="small"
            variant="outlined"
            disabled={from.length === 1}
            onClick={() => setFrom(from.slice(0, -1))}
          >
            {t.differences.before}
          </Button>
          <Button
            size="small"
            variant="outlined"
            disabled={!page.data.next}
            onClick={() => setFrom([...from, Number(page.data.next)])}
          >
            {t.differences.more}
          </Button>
        </Box>
      )}
    </>
  );
}

function OneRow({ r, heads, extra }: { r: RowChange; heads: [string, string]; extra?: Extra }) {
  return (
    <Box sx={{ borderTop: '1px solid var(--mui-palette-divider)', py: 1 }}>
      <Box
        sx={{
          display: 'flex',
          flexWrap: 'wrap',
          gap: 1,
          alignItems: 'center',
          mb: 0.5,
          // the record's name stays in sight while its attributes are scrolled
          position: 'sticky',
          top: 0,
          zIndex: 1,
          bgcolor: 'background.paper',
        }}
      >
        <Sign of={r.difference} />
        <Box component="span" data-item tabIndex={-1} sx={{ fontWeight: 650, overflowWrap: 'anywhere' }}>
          {r.key.replaceAll('"', '')}
        </Box>
        <Typography component="span" variant="caption" color="textSecondary">
          {r.difference}, {plural(r.attributes.length, 'attribute', 'attributes')}
          {r.valuesHidden ? t.differences.youMayNotSeeValues : ''}
        </Typography>
        {extra?.(r)}
      </Box>
      <Attributes of={r.key} list={r.attributes} heads={heads} conflict={r.difference === 'conflict'} both={r.both} />
    </Box>
  );
}
