'use client';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from './api';

const keyOf = (gameId: number): string => `zero-latch-folder-${gameId}`;

/** The folder to write to: what was typed, else where this game's things went the last time, else the application's own place. */
export function useOutputFolder(gameId: number, given = ''): [string, (folder: string) => void] {
  const { data } = useQuery({
    queryKey: ['place', gameId],
    queryFn: () => api.get<{ folder: string }>(`games/${gameId}/place`),
  });
  const [typed, setTyped] = useState<string | undefined>(given || undefined);
  const [last] = useState(() => (typeof window === 'undefined' ? null : localStorage.getItem(keyOf(gameId))));
  return [typed ?? last ?? data?.folder ?? '', setTyped];
}

/** Keeps where something went, for the next time. */
export const rememberFolder = (gameId: number, folder: string): void =>
  localStorage.setItem(keyOf(gameId), folder);
