import { useSearchParams } from 'react-router';

/** Lines of a page of a list: what may be chosen. The first is usual. */
export const SIZES = [100, 25, 500];

/** In place of a value: any will do. */
export const ANY = 'any';

/** What a list is narrowed to. It lives in the address, so that a colleague who opens it sees the same. */
export interface Filters {
  /** By name, empty where any will do. */
  values: Record<string, string>;
  /** What is shown as chosen: the same, with a word for any where one value is usual. */
  shown: Record<string, string>;
  size: number;
  /** Whether something else than usual was asked for. */
  narrowed: boolean;
  set: (name: string, value: string) => void;
  clear: () => void;
}

/**
 * @param usual every filter of the list by name, with what it is when the address does not say; '' is any
 */
export function useFilters(usual: Record<string, string>): Filters {
  const [params, setParams] = useSearchParams();
  const shown = Object.fromEntries(Object.entries(usual).map(([name, value]) => [name, params.get(name) ?? value]));
  const asked = Number(params.get('size'));
  return {
    shown,
    values: Object.fromEntries(Object.entries(shown).map(([name, value]) => [name, value === ANY ? '' : value])),
    size: SIZES.find((s) => s === asked) ?? SIZES[0] ?? 100,
    narrowed: Object.entries(usual).some(([name, value]) => shown[name] !== value),
    set: (name, value) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          if (value === (usual[name] ?? String(SIZES[0]))) next.delete(name);
          else next.set(name, value);
          return next;
        },
        { replace: true },
      ),
    clear: () =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          Object.keys(usual).forEach((name) => next.delete(name));
          return next;
        },
        { replace: true },
      ),
  };
}

/** As the API takes it: nothing where any will do. */
export const asked = (values: Record<string, string>): Record<string, string | undefined> =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value || undefined]));
