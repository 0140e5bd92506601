'use client';
import { keepText, useKeptText } from '../kept-text';

/** The columns of a table that stay in sight, remembered by the browser, and a way to choose them. */
export function usePins(
  gameId: number,
  table: string,
): [readonly string[], (pins: readonly string[]) => void] {
  const key = `zero-latch-pins-${gameId}-${table}`;
  const kept = useKeptText(key);
  let pins: readonly string[] = [];
  try {
    const said: unknown = JSON.parse(kept || '[]');
    if (Array.isArray(said)) pins = said.filter((one) => typeof one === 'string');
  } catch {
    // What another version kept counts for nothing.
    pins = [];
  }
  return [pins, (next) => keepText(key, JSON.stringify(next))];
}

export interface ShownColumn {
  readonly name: string;
  /** Its number in the table. */
  readonly i: number;
  readonly isPinned: boolean;
}

/** Columns with those that are pinned first, in the order in which they were. */
export function pinnedFirst(columns: readonly string[], pins: readonly string[]): ShownColumn[] {
  const all = columns.map((name, i) => ({ name, i, isPinned: pins.includes(name) }));
  const first = pins.flatMap((pin) => all.filter(({ name }) => name === pin).slice(0, 1));
  return [...first, ...all.filter((one) => !first.includes(one)).map((one) => ({ ...one, isPinned: false }))];
}
