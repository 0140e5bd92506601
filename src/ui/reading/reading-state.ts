'use client';
import { useSearchParams } from 'next/navigation';
import { useCallback, useMemo } from 'react';

/** What is read; all of it is in the address, and each table and row that is gone to is a step back. */
export interface ReadingView {
  readonly table: string;
  readonly row: string;
  readonly text: string;
  readonly order: string;
  readonly backwards: string;
  /** A file of the contents, as `archive:index`, whose table is meant. */
  readonly file: string;
  /** What stands over the table: a chain, what points where, what nothing reads, a value. */
  readonly over: string;
  readonly depth: string;
  readonly value: string;
  /** The spot of a map that one is on, as `across:down`. */
  readonly spot: string;
  /** A row that others are compared with, as `row table`. */
  readonly beside: string;
  /** `game` where tables are read without what the mod changes. */
  readonly as: string;
}

const KEYS: readonly (keyof ReadingView)[] = [
  'table',
  'row',
  'text',
  'order',
  'backwards',
  'file',
  'over',
  'depth',
  'value',
  'spot',
  'beside',
  'as',
];

export type SetView = (change: Partial<ReadingView>, isStep?: boolean) => void;

export function useReadingView(): [ReadingView, SetView] {
  const params = useSearchParams();
  const view = useMemo(
    () => Object.fromEntries(KEYS.map((key) => [key, params.get(key) ?? ''])) as unknown as ReadingView,
    [params],
  );
  const set = useCallback<SetView>((change, isStep = false) => {
    const next = new URLSearchParams(window.location.search);
    for (const [key, value] of Object.entries(change)) {
      if (value) next.set(key, value);
      else next.delete(key);
    }
    const query = next.toString();
    const to = query ? `?${query}` : window.location.pathname;
    if (isStep) window.history.pushState(null, '', to);
    else window.history.replaceState(null, '', to);
  }, []);
  return [view, set];
}

/** Goes to a row of a table. */
export const atRow = (table: string, row: number): Partial<ReadingView> => ({
  ...{ table, row: String(row), text: '', order: '', backwards: '', over: '', file: '', spot: '' },
});
