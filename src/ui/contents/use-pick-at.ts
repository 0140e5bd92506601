'use client';
import { useCallback, useEffect, useRef } from 'react';
import type { Entries, EntryItem } from './use-entries';

/** Picks the entry at a place of the list; one that is on its way still is picked once it is there. */
export function usePickAt(entries: Entries, pick: (item: EntryItem) => void): (index: number) => void {
  const latest = useRef(entries);
  const waiting = useRef<number[]>([]);
  useEffect(() => {
    latest.current = entries;
    const awaited = waiting.current;
    if (awaited.length === 0) return;
    // Places of another view are others.
    waiting.current = entries.isBefore ? [] : awaited.filter((index) => !entries.at(index));
    if (entries.isBefore) return;
    for (const index of awaited) {
      const item = entries.at(index);
      if (item) pick(item);
    }
  });
  return useCallback(
    (index) => {
      const item = latest.current.at(index);
      if (item) pick(item);
      else if (index >= 0) waiting.current.push(index);
    },
    [pick],
  );
}
