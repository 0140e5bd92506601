'use client';
import type { ModView } from '@/server/mods/mods';
import { keepText, useKeptText } from './kept-text';
import { useMods } from './queries';

const keyOf = (gameId: number): string => `zero-latch-mod-${gameId}`;

/** The mod that is being worked on, remembered by the browser; the newest one until another is chosen. */
export function useMod(gameId: number): {
  mod: ModView | undefined;
  choose: (id: number) => void;
  loaded: boolean;
} {
  const { data: mods } = useMods(gameId);
  const chosen = useKeptText(keyOf(gameId));
  const mod =
    mods?.find(({ id }) => id === Number(chosen)) ??
    mods?.reduce<ModView | undefined>(
      (newest, one) => (newest && newest.id > one.id ? newest : one),
      undefined,
    );
  return {
    mod,
    loaded: mods !== undefined,
    choose(id) {
      keepText(keyOf(gameId), String(id));
    },
  };
}
