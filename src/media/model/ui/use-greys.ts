'use client';
import { useMemo } from 'react';
import { keepText, useKeptText } from '@/ui/kept-text';
import { Greys } from '../core/take';

/** What the channels of a game's grey maps are, as it was said last for the game; and how to say otherwise. */
export function useGreys(gameId: number): readonly [Greys, (greys: Greys) => void] {
  const key = `zero-latch greys ${gameId}`;
  const kept = useKeptText(key);
  const greys = useMemo(() => greysFrom(kept), [kept]);
  return [greys, (next) => keepText(key, JSON.stringify(next))];
}

function greysFrom(text: string | null): Greys {
  try {
    return Greys.catch({}).parse(JSON.parse(text ?? '{}'));
  } catch {
    return {};
  }
}
