'use client';
import { useEffect, useRef } from 'react';
import { isForPage, lettersWork } from '@/ui/letter-keys';

interface ThroughKeys {
  /** Space: rest, or go on. */
  turn(): void;
  /** The arrows: `by` entries on, asked for at `asked` (ms of the page's clock). */
  step(by: number, asked: number): void;
  letters: Record<string, () => void>;
}

/** The keys of playing through, before the list and the inspector take them. */
export function useThroughKeys(wanted: ThroughKeys): void {
  const latest = useRef(wanted);
  useEffect(() => {
    latest.current = wanted;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (!isForPage(event)) return;
      const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (by !== undefined) latest.current.step(by, event.timeStamp);
      const isLetter = /^[a-z<>]$/.test(event.key) && lettersWork();
      const act = isLetter ? latest.current.letters[event.key] : undefined;
      if (!act) return;
      event.preventDefault();
      // Whoever begins by the same key must not hear the press that ended it.
      event.stopPropagation();
      act();
    };
    // Space is this one's while it plays; the inspector's wave rests.
    const look = (event: Event): void => {
      event.stopImmediatePropagation();
      latest.current.turn();
    };
    window.addEventListener('keydown', press, { capture: true });
    window.addEventListener('zero-latch-look', look, { capture: true });
    return () => {
      window.removeEventListener('keydown', press, { capture: true });
      window.removeEventListener('zero-latch-look', look, { capture: true });
    };
  }, []);
}
