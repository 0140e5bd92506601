'use client';
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import type { Run } from '@/core/catalogue';
import type { EntryItem, EntryPage } from '@/server/entries/entries';
import { api } from '../api';
import { entryParams, parseEntry, type ContentsView } from './url-state';

export type { EntryItem };

/** Entries that are fetched at a time. */
export const PAGE = 200;

const NO_KINDS = {};
const NO_FACTS: EntryPage['facts'] = [];

export interface Entries {
  readonly total: number;
  readonly bytes: number;
  readonly kinds: Record<string, number>;
  readonly facts: EntryPage['facts'];
  readonly loaded: boolean;
  /** Whether what is shown is still that of the view before. */
  readonly isBefore: boolean;
  readonly error: Error | null;
  at(index: number): EntryItem | undefined;
}

/** The entries of a view, fetched in pages as they come into sight. */
export function useEntries(gameId: number, view: ContentsView, first: number, last: number): Entries {
  const params = entryParams(view);
  const from = Math.floor(first / PAGE);
  const to = Math.floor(Math.max(first, last) / PAGE);
  const wanted = [...new Set([0, ...Array.from({ length: to - from + 1 }, (_, i) => from + i)])];
  const pages = useQueries({
    queries: wanted.map((page) => ({
      queryKey: ['entries', gameId, params.toString(), page],
      queryFn: () =>
        api.get<EntryPage>(`games/${gameId}/entries?${params}&offset=${page * PAGE}&limit=${PAGE}`),
      placeholderData: keepPreviousData,
      // Pages come whole; to compare each of their rows with what was there would cost more than to draw them.
      structuralSharing: false,
    })),
  });
  const head = pages[0]!;
  return {
    total: head.data?.total ?? 0,
    bytes: head.data?.bytes ?? 0,
    kinds: head.data?.kinds ?? NO_KINDS,
    facts: head.data?.facts ?? NO_FACTS,
    loaded: head.data !== undefined,
    isBefore: head.isPlaceholderData,
    error: head.error,
    at(index) {
      const page = pages[wanted.indexOf(Math.floor(index / PAGE))];
      return page?.data?.rows[index % PAGE];
    },
  };
}

/** How the list falls into folders; undefined where that is not asked for or not known yet. */
export function useRuns(gameId: number, view: ContentsView, enabled: boolean): readonly Run[] | undefined {
  const params = entryParams(view);
  const { data } = useQuery({
    queryKey: ['runs', gameId, params.toString()],
    enabled,
    queryFn: ({ signal }) => api.get<readonly Run[]>(`games/${gameId}/entries/runs?${params}`, signal),
  });
  return enabled ? data : undefined;
}

/** Where the chosen entry stands in the list, so that a reload comes back to it; -1 where it is not in it. */
export function usePlace(gameId: number, view: ContentsView, enabled: boolean): number {
  const chosen = parseEntry(view.entry);
  const { data } = useQuery({
    queryKey: ['place', gameId, entryParams(view).toString(), view.entry],
    enabled: enabled && chosen !== undefined,
    queryFn: () =>
      api.get<{ place: number }>(
        `games/${gameId}/entries/place?${entryParams(view)}&ofArchive=${chosen!.archiveId}&ofIndex=${chosen!.index}`,
      ),
  });
  return data?.place ?? -1;
}
