import { Box, Button, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { SIZES, type Filters } from '../data/filters';
import { applications, itemsOf, stages, type Page } from '../data/lists';
import { Choice } from './Choice';
import { Empty, Loading, More, Problem, Rows } from './parts';
import { t } from './texts';

interface Asked<T> {
  data?: { pages: Page<T>[] };
  error: unknown;
  hasNextPage: boolean;
  isFetchingNextPage: boolean;
  isPlaceholderData: boolean;
  fetchNextPage: () => unknown;
}

/**
 * A list a page at a time. Nothing there yet and nothing that matches are two things: the one says the first step,
 * the other how to see more.
 */
export function Listing<T>({
  of,
  filters,
  label,
  heads,
  none,
  order,
  children,
}: {
  of: Asked<T>;
  filters?: Filters;
  label: string;
  heads: string[];
  /** What is said where there is nothing at all: the first step. */
  none: ReactNode;
  /** How what was read so far is put in order; as it came where nothing is said. */
  order?: (a: T, b: T) => number;
  children: (item: T) => ReactNode;
}) {
  const read = itemsOf(of.data);
  const items = read && order ? [...read].sort(order) : read;
  if (of.error && !items) return <Problem error={of.error} />;
  if (!items) return <Loading what={label} />;
  return (
    <>
      <Problem error={of.error} />
      {items.length === 0 ? (
        <Empty>
          {filters?.narrowed ? (
            <>
              {t.listing.nothingMatches} <Button onClick={filters.clear}>{t.listing.clear}</Button>
            </>
          ) : (
            none
          )}
        </Empty>
      ) : (
        <Box sx={{ opacity: of.isPlaceholderData ? 0.6 : 1 }}>
          <Rows label={label} heads={heads}>
            {items.map(children)}
          </Rows>
        </Box>
      )}
      {filters && (of.hasNextPage || items.length > Math.min(...SIZES)) && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 2, mt: 2 }}>
          <Typography variant="body2" color="textSecondary">
            {t.listing.shown(items.length, of.hasNextPage)}
          </Typography>
          <Choice
            label={t.listing.size}
            value={String(filters.size)}
            onChange={(size) => filters.set('size', size)}
            of={[...SIZES].sort((a, b) => a - b).map((s) => [String(s), String(s)])}
          />
        </Box>
      )}
      <More of={of} />
    </>
  );
}

/** One filter of a list: any, or one of a few. */
export function Narrow({
  of,
  name,
  label,
  choices,
  any = '',
}: {
  of: Filters;
  name: string;
  label: string;
  choices: (string | [value: string, shown: string])[];
  /** The value that stands for any; another than '' where one value is usual. */
  any?: string;
}) {
  const listed = choices.map((c): [string, string] => (typeof c === 'string' ? [c, c] : c));
  const value = of.shown[name] ?? any;
  // what stands in the address and is none of them is shown as it is: the list is narrowed to it
  const known = value === any || listed.some(([v]) => v === value);
  return (
    <Choice
      label={label}
      value={value}
      onChange={(next) => of.set(name, next)}
      of={[[any, t.listing.any], ...listed, ...(known ? [] : [[value, value] as [string, string]])]}
    />
  );
}

/** Narrowed to one application. */
export function ByApplication({ of }: { of: Filters }) {
  const all = useQuery(applications());
  return (
    <Narrow
      of={of}
      name="application"
      label={t.listing.application}
      choices={(all.data ?? []).map((a) => [a.key, a.name])}
    />
  );
}

/** Narrowed to one stage that versions come to, or to any where all is said. */
export function ByStage({ of, all }: { of: Filters; all?: boolean }) {
  const places = useQuery(stages());
  return (
    <Narrow
      of={of}
      name="stage"
      label={t.listing.stage}
      choices={(places.data ?? []).filter((s) => all || s.role !== 'development').map((s) => s.key)}
    />
  );
}
