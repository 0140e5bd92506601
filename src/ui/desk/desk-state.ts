'use client';
import { useSearchParams } from 'next/navigation';
import { useCallback, useMemo } from 'react';
import { keepText, useKeptText } from '../kept-text';

/** What the text desk shows; all of it is in the address. */
export interface DeskView {
  readonly source: string;
  readonly target: string;
  readonly others: string;
  readonly shown: string;
  readonly text: string;
  readonly place: string;
  readonly speaker: string;
  readonly order: string;
  readonly backwards: string;
  /** The chosen line: table, key and number among namesakes. */
  readonly line: string;
}

const KEYS = [
  ...([
    'source',
    'target',
    'others',
    'shown',
    'text',
    'place',
    'speaker',
    'order',
    'backwards',
    'line',
  ] as const),
];

export function useDeskView(): [DeskView, (change: Partial<DeskView>) => void] {
  const params = useSearchParams();
  const view = useMemo(
    () => Object.fromEntries(KEYS.map((key) => [key, params.get(key) ?? ''])) as unknown as DeskView,
    [params],
  );
  const set = useCallback((change: Partial<DeskView>) => {
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

/** The languages of a view, as the server is asked for them. */
export const tonguesOf = ({ source, target, others }: DeskView): Record<string, string> =>
  Object.fromEntries(Object.entries({ source, target, others }).filter(([, value]) => value !== ''));

/** All that the server is asked for the lines of a view. */
export const linesOf = ({
  shown,
  text,
  place,
  speaker,
  order,
  backwards,
  ...view
}: DeskView): Record<string, string> => ({
  ...tonguesOf({ shown, text, place, speaker, order, backwards, ...view }),
  ...Object.fromEntries(
    Object.entries({ shown, text, place, speaker, order, backwards }).filter(([, value]) => value !== ''),
  ),
});

export interface LineRef {
  readonly place: string;
  readonly key: string;
  readonly nth: number;
}

export const refOf = ({ place, key, nth }: LineRef): string => JSON.stringify([place, key, nth]);

export function parseRef(text: string): LineRef | undefined {
  try {
    const [place, key, nth] = JSON.parse(text) as [unknown, unknown, unknown];
    return typeof place === 'string' && typeof key === 'string' && typeof nth === 'number'
      ? { place, key, nth }
      : undefined;
  } catch {
    return undefined;
  }
}

const NAME = 'zero-latch-desk-name';

/** What whoever works here calls themselves; the browser remembers it. */
export function useOwnName(): [string, (name: string) => void] {
  return [useKeptText(NAME) ?? '', (name) => keepText(NAME, name.trim().slice(0, 60))];
}
