import { Alert, Box, Button, Typography } from '@mui/material';
import { useEffect, useId, useRef, type ReactNode } from 'react';
import { Link as RouterLink } from 'react-router';
import { ApiError } from '../data/api';
import { ago, full } from '../time';
import { color, Mark, tint } from './Mark';
import { t } from './texts';

/** Mark and word, always both. */
export function State({ word, strong }: { word: string; strong?: boolean }) {
  return (
    <Box
      component="span"
      sx={{
        display: 'inline-flex',
        alignItems: 'center',
        gap: 0.75,
        color: color(word),
        fontWeight: strong ? 650 : 600,
        whiteSpace: 'nowrap',
        verticalAlign: 'text-bottom',
      }}
    >
      <Mark of={word} />
      {said(word)}
    </Box>
  );
}

/** A state's code as people read it. */
function said(word: string): string {
  const text = word === 'done, n to look at' ? 'done, something to look at' : word;
  return text.charAt(0).toUpperCase() + text.slice(1);
}

const signs: Record<string, [string, string]> = {
  added: ['+', 'good'],
  changed: ['≠', 'caution'],
  removed: ['−', 'fault'],
  conflict: ['!', 'fault'],
  same: ['=', 'quiet'],
  kept: ['○', 'quiet'],
};

/** The 20 px sign of a difference; its word stands beside it. */
export function Sign({ of }: { of: string }) {
  const [sign, tone] = signs[of] ?? ['?', 'quiet'];
  const c = `var(--mui-palette-signal-${tone})`;
  return (
    <Box
      component="span"
      aria-hidden
      sx={{
        width: 20,
        height: 20,
        flex: 'none',
        display: 'inline-flex',
        alignItems: 'center',
        justifyContent: 'center',
        border: `1px solid ${c}`,
        borderRadius: '2px',
        color: c,
        bgcolor: `var(--mui-palette-signal-${tone}T)`,
        fontWeight: 650,
        fontSize: 13,
        lineHeight: 1,
      }}
    >
      {sign}
    </Box>
  );
}

/** A time: relative for an hour, then clock, then date; the full time on hover. */
export function Time({ at }: { at?: string | null }) {
  return at ? (
    <time dateTime={at} title={full(at)}>
      {ago(at)}
    </time>
  ) : null;
}

/** One h1 a page; production carries the double rule and the word. */
export function PageTitle({
  title,
  note,
  production,
  children,
}: {
  title: string;
  note?: ReactNode;
  production?: boolean;
  children?: ReactNode;
}) {
  const ref = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    document.title = `${title} · Plenzo`;
    ref.current?.focus({ preventScroll: true });
  }, [title]);
  return (
    <Box sx={{ mb: 2, ...(production ? { borderTop: '5px double var(--mui-palette-text-primary)', pt: 1 } : {}) }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 2, rowGap: 1, minHeight: 40 }}>
        <Typography variant="h1" ref={ref} tabIndex={-1} sx={{ outline: 'none', overflowWrap: 'anywhere' }}>
          {title}
        </Typography>
        <Box sx={{ color: 'text.secondary', fontSize: 13, flex: '1 1 200px' }}>{note}</Box>
        {children}
      </Box>
    </Box>
  );
}

export function Panel({
  title,
  children,
  production,
  action,
  sx,
}: {
  title?: string;
  children: ReactNode;
  production?: boolean;
  action?: ReactNode;
  sx?: object;
}) {
  const id = useId();
  return (
    <Box
      component="section"
      aria-labelledby={title ? id : undefined}
      sx={{
        bgcolor: 'background.paper',
        border: '1px solid var(--mui-palette-divider)',
        ...(production ? { borderTop: '5px double var(--mui-palette-text-primary)' } : {}),
        p: 2,
        mb: 2,
        minWidth: 0,
        ...sx,
      }}
    >
      {title && (
        <Box sx={{ display: 'flex', alignItems: 'center', mb: 1, gap: 2 }}>
          <Typography id={id} variant="h2" sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
            {title}
          </Typography>
          {action}
        </Box>
      )}
      {children}
    </Box>
  );
}

/**
 * A link that looks like one.
 *
 * @param label what is read out where the same words lead to different places
 */
export function Go({ to, label, children }: { to: string; label?: string | undefined; children: ReactNode }) {
  return (
    <Box
      component={RouterLink}
      to={to}
      aria-label={label}
      sx={{ color: 'var(--mui-palette-signal-you)', fontWeight: 600, textUnderlineOffset: 3 }}
    >
      {children}
    </Box>
  );
}

/** A file that the server sends; it looks like a link. */
export function Download({ href, children }: { href: string; children: ReactNode }) {
  return (
    <Box
      component="a"
      href={href}
      download
      sx={{ color: 'var(--mui-palette-signal-you)', fontWeight: 600, textUnderlineOffset: 3 }}
    >
      {children}
    </Box>
  );
}

/** A button that stays focusable when it cannot be used, and says why beside it, in text. */
export function Act({
  why,
  onClick,
  children,
  kind = 'contained',
  busy,
  fault,
  name,
}: {
  why?: string;
  onClick: () => void;
  children: ReactNode;
  kind?: 'contained' | 'outlined';
  busy?: boolean;
  fault?: boolean;
  /** What it is called where its words say too little by themselves; it contains them. */
  name?: string;
}) {
  const id = useId();
  const off = Boolean(why);
  return (
    <Box sx={{ display: 'inline-flex', flexWrap: 'wrap', alignItems: 'center', gap: 1 }}>
      <Button
        variant={kind}
        color={fault ? 'error' : 'primary'}
        loading={busy}
        aria-label={name}
        aria-disabled={off}
        aria-describedby={off ? id : undefined}
        onClick={() => !off && onClick()}
        sx={off ? { opacity: 0.65, cursor: 'not-allowed' } : undefined}
      >
        {children}
      </Button>
      {off && (
        <Typography id={id} variant="caption" color="textSecondary" sx={{ maxWidth: 360 }}>
          {why}
        </Typography>
      )}
    </Box>
  );
}

/** What went wrong: what, what to do, the request's id. It takes focus so that nobody misses it. */
export function Problem({ error }: { error: unknown }) {
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => ref.current?.focus(), [error]);
  if (!error) return null;
  const e = error instanceof ApiError ? error : null;
  return (
    <Alert severity="error" ref={ref} tabIndex={-1} sx={{ mb: 2 }}>
      {e ? e.detail : String(error)}
      {e && e.next.length > 0 && (
        <div>
          {t.parts.next} {e.next[0]}
        </div>
      )}
      {e?.requestId && <Typography variant="caption">{t.parts.request(e.requestId)}</Typography>}
    </Alert>
  );
}

/** Names beside what they name; those without anything are left out. */
export function Facts({ list }: { list: [string, ReactNode][] }) {
  return (
    <Box
      component="dl"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '140px minmax(0, 1fr)' },
        rowGap: 1,
        m: 0,
        '& dt': { color: 'text.secondary' },
        '& dd': { m: 0, minWidth: 0, overflowWrap: 'anywhere' },
      }}
    >
      {list
        .filter(([, what]) => what)
        .map(([name, what]) => [<dt key={name}>{name}</dt>, <dd key={`${name} is`}>{what}</dd>])}
    </Box>
  );
}

/** Reads the following page of a list; nothing where there is none. */
export function More({
  of,
}: {
  of: { hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown };
}) {
  return of.hasNextPage ? (
    <Button variant="outlined" sx={{ mt: 2 }} loading={of.isFetchingNextPage} onClick={() => of.fetchNextPage()}>
      {t.parts.more}
    </Button>
  ) : null;
}

export function Empty({ children }: { children: ReactNode }) {
  return (
    <Typography color="textSecondary" sx={{ py: 2, maxWidth: '72ch' }}>
      {children}
    </Typography>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <Typography color="textSecondary" role="status" sx={{ py: 2 }}>
      {t.parts.loading(what)}
    </Typography>
  );
}

/** For readers alone. */
export const unseen = {
  position: 'absolute',
  width: 1,
  height: 1,
  overflow: 'hidden',
  clipPath: 'inset(50%)',
  whiteSpace: 'nowrap',
} as const;

/** A plain table that becomes cards at 320 px. */
export function Rows({
  label,
  heads,
  pinned,
  even,
  children,
}: {
  label: string;
  heads: string[];
  /** Whether its columns are as wide as those of its likes on the page. */
  even?: boolean;
  /** Whether the first column stays in sight while the others are scrolled. */
  pinned?: boolean;
  children: ReactNode;
}) {
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label={label}>
      <Box
        component="table"
        aria-label={label}
        sx={{
          width: '100%',
          minWidth: even ? 720 : undefined,
          tableLayout: even ? 'fixed' : undefined,
          '& th:nth-of-type(2)': even ? { width: '20%' } : undefined,
          borderCollapse: 'collapse',
          fontSize: 13,
          lineHeight: '18px',
          '& th': {
            position: 'relative',
            textAlign: 'left',
            fontWeight: 650,
            py: 1,
            px: 1,
            borderBottom: '1px solid var(--mui-palette-divider)',
            whiteSpace: 'nowrap',
          },
          '& td:first-of-type a': { whiteSpace: 'nowrap' },
          '& td': { py: 1, px: 1, borderBottom: '1px solid var(--mui-palette-divider)', verticalAlign: 'top' },
          fontVariantNumeric: 'tabular-nums',
          ...(pinned && {
            '& th:first-of-type, & td:first-of-type': {
              position: 'sticky',
              left: 0,
              zIndex: 1,
              bgcolor: 'background.paper',
            },
          }),
        }}
      >
        <thead>
          <tr>
            {heads.map((h) => (
              <th key={h} scope="col">
                {h || (
                  <Box component="span" sx={unseen}>
                    {t.parts.act}
                  </Box>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </Box>
    </Box>
  );
}

export function Fingerprint({ value }: { value?: string | null }) {
  return value ? (
    <Box
      component="code"
      sx={{
        fontFamily: 'ui-monospace, monospace',
        fontSize: 13,
        fontVariantNumeric: 'slashed-zero',
        whiteSpace: 'nowrap',
      }}
    >
      {value}
    </Box>
  ) : null;
}

/** A quiet band in a state's tint. */
export function Band({ word, children }: { word: string; children: ReactNode }) {
  return (
    <Box sx={{ bgcolor: tint(word), borderLeft: `4px solid ${color(word)}`, px: 2, py: 1.5, mb: 2 }}>{children}</Box>
  );
}

/** The full-width ink bar after which a run can only be rolled back. */
export function NoReturn() {
  return (
    <Box sx={{ bgcolor: 'text.primary', color: 'background.paper', px: 1.5, py: 0.5, fontSize: 12, fontWeight: 650 }}>
      {t.parts.noReturnLineOnceThe}
    </Box>
  );
}
