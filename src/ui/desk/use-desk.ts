'use client';
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import type { LineFinding } from '@/media/text/core/lines';
import type { DeskLineView, DeskOverview, DeskRow, DeskRows, DoneByDay } from '@/server/desk/desk-view';
import { api } from '../api';
import { linesOf, refOf, tonguesOf, type DeskView, type LineRef } from './desk-state';

export const deskPath = (gameId: number, modId: number): string => `games/${gameId}/mods/${modId}/desk`;

const asked = (params: Record<string, string>): string => new URLSearchParams(params).toString();

export function useOverview(gameId: number, modId: number, view: DeskView) {
  const params = asked(tonguesOf(view));
  return useQuery({
    queryKey: ['desk', gameId, modId, 'overview', params],
    queryFn: () => api.get<DeskOverview>(`${deskPath(gameId, modId)}?${params}`),
    placeholderData: keepPreviousData,
  });
}

/** Lines that are fetched at a time. */
const PAGE = 200;

export interface Lines {
  readonly total: number;
  readonly loaded: boolean;
  readonly isBefore: boolean;
  readonly error: Error | null;
  at(index: number): DeskRow | undefined;
}

/** The lines of a view, fetched in pages as they come into sight. */
export function useLines(gameId: number, modId: number, view: DeskView, first: number, last: number): Lines {
  const params = asked(linesOf(view));
  const from = Math.floor(first / PAGE);
  const to = Math.floor(Math.max(first, last) / PAGE);
  const wanted = [...new Set([0, ...Array.from({ length: to - from + 1 }, (_, i) => from + i)])];
  const pages = useQueries({
    queries: wanted.map((page) => ({
      queryKey: ['desk', gameId, modId, 'rows', params, page],
      queryFn: () =>
        api.get<DeskRows>(`${deskPath(gameId, modId)}/rows?${params}&from=${page * PAGE}&count=${PAGE}`),
      placeholderData: keepPreviousData,
      structuralSharing: false,
    })),
  });
  const head = pages[0]!;
  return {
    total: head.data?.total ?? 0,
    loaded: head.data !== undefined,
    isBefore: head.isPlaceholderData,
    error: head.error,
    at(index) {
      const page = pages[wanted.indexOf(Math.floor(index / PAGE))];
      return page?.data?.rows[index % PAGE];
    },
  };
}

export function useLine(gameId: number, modId: number, view: DeskView, line: LineRef | undefined) {
  const params = line
    ? asked({ ...tonguesOf(view), place: line.place, key: line.key, nth: String(line.nth) })
    : '';
  return useQuery({
    queryKey: ['desk', gameId, modId, 'line', params],
    enabled: line !== undefined,
    queryFn: () => api.get<DeskLineView>(`${deskPath(gameId, modId)}/line?${params}`),
  });
}

/** What is found in a text while it is typed. */
export function useCheck(gameId: number, modId: number, view: DeskView, line: LineRef, text: string) {
  return useQuery({
    queryKey: ['desk', gameId, modId, 'check', asked(tonguesOf(view)), refOf(line), text],
    queryFn: () =>
      api.post<LineFinding[]>(`${deskPath(gameId, modId)}/check`, {
        ...tonguesOf(view),
        ...{ place: line.place, key: line.key, nth: line.nth, text },
      }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 10_000,
  });
}

export function useDays(gameId: number, modId: number, target: string, enabled: boolean) {
  return useQuery({
    queryKey: ['desk', gameId, modId, 'days', target],
    enabled,
    queryFn: () => api.get<DoneByDay[]>(`${deskPath(gameId, modId)}/days?${asked({ target })}`),
  });
}
