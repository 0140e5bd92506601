'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Listened } from '@/server/looking/listen';
import { LENSES } from '@/media/lenses';
import { api } from '../api';
import type { ContentsView } from './url-state';

const AGAIN_MS = 1500;
const ASKED = /(^|\s)-?(length|level|rate|channels|is:(silent|clipped|broken|measured))\b/i;

/** Whether a view asks for what is known of sounds only once they were measured. */
const asksFor = ({ kind, sort, search }: ContentsView): boolean =>
  LENSES.some((lens) => lens.kind === kind && lens.columns.some((column) => column.sort)) ||
  sort === 'length' ||
  sort === 'level' ||
  ASKED.test(search);

/** How many sounds were measured so far, where a view asks for that; lists are asked for anew as more of it is known. */
export function useListened(gameId: number, view: ContentsView): Listened | undefined {
  const queries = useQueryClient();
  const { data } = useQuery({
    queryKey: ['listened', gameId],
    enabled: asksFor(view),
    queryFn: () => api.get<Listened>(`games/${gameId}/listened`),
    refetchInterval: ({ state }) =>
      state.data && state.data.measured < state.data.sounds ? AGAIN_MS : false,
  });
  const measured = data?.measured ?? 0;
  useEffect(() => {
    if (measured > 0) void queries.invalidateQueries({ queryKey: ['entries', gameId] });
  }, [measured, gameId, queries]);
  return asksFor(view) ? data : undefined;
}
