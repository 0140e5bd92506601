'use client';
import { useSearchParams } from 'next/navigation';
import { useCallback, useMemo } from 'react';

/** What the Contents screen shows; all of it is in the address, so that a view can be kept and shared. */
export interface ContentsView {
  readonly folder: string;
  readonly kind: string;
  readonly search: string;
  readonly archive: string;
  readonly sort: string;
  readonly order: string;
  /** How the wall of pictures is parted: `folder`, `look`, or not at all. */
  readonly group: string;
  /** Chosen entry as `archive:number`. */
  readonly entry: string;
}

const KEYS = ['folder', 'kind', 'search', 'archive', 'sort', 'order', 'group', 'entry'] as const;

export function useContentsView(): [ContentsView, (change: Partial<ContentsView>) => void] {
  const params = useSearchParams();
  const view = useMemo(
    () => Object.fromEntries(KEYS.map((key) => [key, params.get(key) ?? ''])) as unknown as ContentsView,
    [params],
  );
  const set = useCallback((change: Partial<ContentsView>) => {
    const next = new URLSearchParams(window.location.search);
    for (const [key, value] of Object.entries(change)) {
      if (value) next.set(key, value);
      else next.delete(key);
    }
    const query = next.toString();
    window.history.replaceState(null, '', query ? `?${query}` : window.location.pathname);
  }, []);
  return [view, set];
}

/** What the server is asked for a view: everything but the chosen entry. */
export const entryParams = ({ folder, kind, search, archive, sort, order }: ContentsView): URLSearchParams =>
  new URLSearchParams(
    Object.entries({ folder, kind, search, archive, sort, order }).filter(([, value]) => value !== ''),
  );

/** The view that a kept address names, the chosen entry left as it is. */
export function viewOfAddress(address: string): Partial<ContentsView> {
  const params = new URLSearchParams(address);
  return Object.fromEntries(KEYS.filter((key) => key !== 'entry').map((key) => [key, params.get(key) ?? '']));
}

/** The entry that an address names. */
export function parseEntry(text: string): { archiveId: number; index: number } | undefined {
  const [archiveId, index] = text.split(':').map(Number);
  return archiveId !== undefined &&
    index !== undefined &&
    Number.isInteger(archiveId) &&
    Number.isInteger(index)
    ? { archiveId, index }
    : undefined;
}

export const entryKey = ({ archiveId, index }: { archiveId: number; index: number }): string =>
  `${archiveId}:${index}`;
