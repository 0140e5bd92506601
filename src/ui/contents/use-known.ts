'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Known } from '@/server/looking/measure-all';
import { MEASURED_LENSES } from '@/media/lenses';
import { api } from '../api';
import { number } from '../format';
import type { ContentsView } from './url-state';

const AGAIN_MS = 1500;
/** What any entry that is measured may be. */
const STATES = 'is:(silent|clipped|broken|finest|measured)';

const asksWith = (search: string, words: readonly string[]): boolean =>
  new RegExp(String.raw`(^|\s)-?((${words.join('|')}):|${STATES}\b)`, 'i').test(search);

/** The kinds of which a view asks what is known only once they were measured. */
const askedFor = ({ kind, sort, search }: ContentsView): typeof MEASURED_LENSES =>
  MEASURED_LENSES.filter(
    (lens) =>
      lens.kind === kind ||
      (lens.measured.words as readonly string[]).includes(sort) ||
      asksWith(search, lens.measured.words),
  );

/** Says how many were measured so far, where a view asks for that; lists are asked for anew as more of it is known. */
export function useKnown(gameId: number, view: ContentsView): readonly string[] {
  const queries = useQueryClient();
  const asked = askedFor(view);
  const kinds = asked.map(({ kind }) => kind).join();
  const { data } = useQuery({
    queryKey: ['known', gameId, kinds],
    enabled: kinds !== '',
    queryFn: () => api.get<Known[]>(`games/${gameId}/known?kinds=${kinds}`),
    refetchInterval: ({ state }) =>
      state.data?.some(({ all, measured }) => measured < all) ? AGAIN_MS : false,
  });
  const measured = data?.reduce((sum, one) => sum + one.measured, 0) ?? 0;
  useEffect(() => {
    if (measured > 0) void queries.invalidateQueries({ queryKey: ['entries', gameId] });
  }, [measured, gameId, queries]);
  return asked.flatMap(({ kind, title, measured: { title: what } }) => {
    const known = data?.find((one) => one.kind === kind);
    return known && known.measured < known.all
      ? [`${what} of ${number(known.measured)} of ${number(known.all)} ${title} are known so far`]
      : [];
  });
}
