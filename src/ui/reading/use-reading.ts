'use client';
import { keepPreviousData, useQueries, useQuery, type Query } from '@tanstack/react-query';
import { createContext, useContext } from 'react';
import type {
  ChainView,
  ReadingOverview,
  RowsView,
  UnreadView,
  ValueFound,
} from '@/server/reading/reading-view';
import type { LevelView } from '@/server/reading/level-view';
import type { MapView } from '@/server/reading/map-view';
import type { NamingEntry } from '@/server/reading/naming';
import type { RowView, TargetView } from '@/server/reading/row-view';
import { api } from '../api';
import type { ReadingView } from './reading-state';

/** The mod with whose changes tables are read; none as the game has them. */
export const ReadingMod = createContext<number | undefined>(undefined);

const asked = (params: Record<string, string>): string => new URLSearchParams(params).toString();
const base = (gameId: number): string => `games/${gameId}/reading`;

/** What is asked of all tables besides, with the mod that they are read with. */
function useModAsked(): { readonly mod: number | undefined; readonly query: string } {
  const mod = useContext(ReadingMod);
  return { mod, query: mod === undefined ? '' : `mod=${mod}` };
}

export function useReading(gameId: number, isReady: boolean) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'overview'],
    enabled: isReady,
    queryFn: () => api.get<ReadingOverview>(`${base(gameId)}?${query}`),
    placeholderData: keepPreviousData,
  });
}

/** The table that a file of the contents has. */
export function useTableOfFile(gameId: number, file: string) {
  const [archive = '', index = ''] = file.split(':');
  return useQuery({
    queryKey: ['reading', gameId, 'file', file],
    enabled: file !== '',
    queryFn: () => api.get<{ table: string | null }>(`${base(gameId)}?${asked({ archive, index })}`),
  });
}

/** What a row, or without one a whole table, is put together from. */
export function useLevel(gameId: number, table: string, row: string) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'parts', table, row],
    queryFn: () =>
      api.get<LevelView>(`${base(gameId)}/parts?${asked({ table, ...(row !== '' && { row }) })}&${query}`),
  });
}

/** What names an entry of the game. */
export function useNaming(gameId: number, archive: number, index: number, isAsked: boolean) {
  return useQuery({
    queryKey: ['reading', gameId, 'naming', archive, index],
    enabled: isAsked,
    queryFn: () =>
      api.get<NamingEntry>(
        `${base(gameId)}/naming?${asked({ archive: String(archive), index: String(index) })}`,
      ),
  });
}

const PAGE = 200;

export interface Rows {
  readonly total: number;
  readonly loaded: boolean;
  readonly error: Error | null;
  at(index: number): RowsView['rows'][number] | undefined;
}

/** Rows of the table that is read, fetched in pages as they come into sight. */
export function useRows(gameId: number, view: ReadingView, table: string, first: number, last: number): Rows {
  const { mod, query } = useModAsked();
  const params = asked({
    ...{ table, text: view.text, order: view.order || '-1' },
    backwards: view.backwards || 'no',
  });
  const from = Math.floor(first / PAGE);
  const to = Math.floor(Math.max(first, last) / PAGE);
  const wanted = [...new Set([0, ...Array.from({ length: to - from + 1 }, (_, i) => from + i)])];
  const pages = useQueries({
    queries: wanted.map((page) => ({
      queryKey: ['reading', gameId, mod, 'rows', table, params, page],
      enabled: table !== '',
      queryFn: () =>
        api.get<RowsView>(`${base(gameId)}/rows?${params}&from=${page * PAGE}&count=${PAGE}&${query}`),
      // Rows of another table are never shown in the place of these.
      placeholderData: (before: RowsView | undefined, query?: Query<RowsView>) =>
        query?.queryKey[4] === table ? before : undefined,
      structuralSharing: false,
    })),
  });
  const head = pages[0]!;
  return {
    ...{ total: head.data?.total ?? 0, loaded: head.data !== undefined, error: head.error },
    at: (index) => pages[wanted.indexOf(Math.floor(index / PAGE))]?.data?.rows[index % PAGE],
  };
}

export function useRow(gameId: number, table: string, row: string) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'row', table, row],
    enabled: table !== '' && row !== '',
    queryFn: () => api.get<RowView>(`${base(gameId)}/row?${asked({ table, row })}&${query}`),
    placeholderData: keepPreviousData,
  });
}

export function useChainOf(gameId: number, table: string, row: string, direction: string, depth: string) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'chain', table, row, direction, depth],
    queryFn: () =>
      api.get<ChainView>(`${base(gameId)}/chain?${asked({ table, row, direction, depth })}&${query}`),
    placeholderData: keepPreviousData,
  });
}

export function useValue(gameId: number, value: string) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'value', value],
    enabled: value.trim() !== '',
    queryFn: () => api.get<ValueFound[]>(`${base(gameId)}/value?${asked({ value })}&${query}`),
    placeholderData: keepPreviousData,
  });
}

export function useUnread(gameId: number) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'unread'],
    queryFn: () => api.get<UnreadView>(`${base(gameId)}/unread?${query}`),
  });
}

/** A row as a map. */
export function useMap(gameId: number, table: string, row: string) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'map', table, row],
    queryFn: () => api.get<MapView>(`${base(gameId)}/map?${asked({ table, row })}&${query}`),
    structuralSharing: false,
  });
}

/** Rows that a field may mean. */
export function useTargets(gameId: number, table: string, field: string, text: string, isWanted: boolean) {
  const { mod, query } = useModAsked();
  return useQuery({
    queryKey: ['reading', gameId, mod, 'targets', table, field, text],
    enabled: isWanted,
    queryFn: () => api.get<TargetView[]>(`${base(gameId)}/targets?${asked({ table, field, text })}&${query}`),
    placeholderData: keepPreviousData,
  });
}
