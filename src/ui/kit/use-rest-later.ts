import { useDeferredValue } from 'react';

/** More than a window shows. */
const FIRST = 40;

/** The first of many at once, and the rest when there is nothing more pressing to draw. */
export function useRestLater<T>(all: readonly T[]): readonly T[] {
  const count = useDeferredValue(all.length, 0);
  return count >= all.length ? all : all.slice(0, Math.max(FIRST, count));
}
