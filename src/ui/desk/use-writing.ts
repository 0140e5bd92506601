'use client';
import { useEffect } from 'react';
import { api } from '../api';
import type { LineRef } from './desk-state';

/** Tells pages apart, so that nobody is told of themselves. */
const WHO =
  typeof crypto === 'undefined' || !('randomUUID' in crypto) ? String(Math.random()) : crypto.randomUUID();

export const isOther = (writer: { readonly who: string } | null): boolean =>
  writer !== null && writer.who !== WHO;

/** Tells the others which line is under one's hands, as long as it is. */
export function useWriting(
  path: string,
  target: string,
  by: string,
  line: LineRef | undefined,
  isOn: boolean,
): void {
  const { place, key, nth } = line ?? {};
  useEffect(() => {
    if (!isOn || place === undefined) return;
    const say = (now: boolean): void =>
      void api
        .post(`${path}/writing`, { place, key, nth, target, by, who: WHO, isOn: now })
        .catch(() => undefined);
    say(true);
    return () => say(false);
  }, [path, target, by, place, key, nth, isOn]);
}
