'use client';
import { keepPreviousData, useQueries, useQuery, type Query } from '@tanstack/react-query';
import type {
  ChainView,
  ReadingOverview,
  RowsView,
  RowView,
  UnreadView,
  ValueFound,
} from '@/server/reading/reading-view';
import { api } from '../api';
import type { ReadingView } from './reading-state';

const asked = (params: Record<string, string>): string => new URLSearchParams(params).toString();
const base = (gameId: number): string => `games/${gameId}/reading`;

export const useReading = (gameId: number) =>
  useQuery({
    queryKey: ['reading', gameId, 'overview'],
    queryFn: () => api.get<ReadingOverview>(base(gameId)),
  });

/** The table that a file of the contents has. */
export function useTableOfFile(gameId: number, file: string) {
  const [archive = '', index = ''] = file.split(':');
  return useQuery({
    queryKey: ['reading', gameId, 'file', file],
    enabled: file !== '',
    queryFn: () => api.get<{ table: string | null }>(`${base(gameId)}?${asked({ archive, index })}`),
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
  const params = asked({
    ...{ table, text: view.text, order: view.order || '-1' },
    backwards: view.backwards || 'no',
  });
  const from = Math.floor(first / PAGE);
  const to = Math.floor(Math.max(first, last) / PAGE);
  const wanted = [...new Set([0, ...Array.from({ length: to - from + 1 }, (_, i) => from + i)])];
  const pages = useQueries({
    queries: wanted.map((page) => ({
      queryKey: ['reading', gameId, 'rows', table, params, page],
      enabled: table !== '',
      queryFn: () => api.get<RowsView>(`${base(gameId)}/rows?${params}&from=${page * PAGE}&count=${PAGE}`),
      // Rows of another table are never shown in the place of these.
      placeholderData: (before: RowsView | undefined, query?: Query<RowsView>) =>
        query?.queryKey[3] === table ? before : undefined,
      structuralSharing: false,
    })),
  });
  const head = pages[0]!;
  return {
    ...{ total: head.data?.total ?? 0, loaded: head.data !== undefined, error: head.error },
    at: (index) => pages[wanted.indexOf(Math.floor(index / PAGE))]?.data?.rows[index % PAGE],
  };
}

export const useRow = (gameId: number, table: string, row: string) =>
  useQuery({
    queryKey: ['reading', gameId, 'row', table, row],
    enabled: table !== '' && row !== '',
    queryFn: () => api.get<RowView>(`${base(gameId)}/row?${asked({ table, row })}`),
    placeholderData: keepPreviousData,
  });

export const useChainOf = (gameId: number, table: string, row: string, direction: string, depth: string) =>
  useQuery({
    queryKey: ['reading', gameId, 'chain', table, row, direction, depth],
    queryFn: () => api.get<ChainView>(`${base(gameId)}/chain?${asked({ table, row, direction, depth })}`),
    placeholderData: keepPreviousData,
  });

export const useValue = (gameId: number, value: string) =>
  useQuery({
    queryKey: ['reading', gameId, 'value', value],
    enabled: value.trim() !== '',
    queryFn: () => api.get<ValueFound[]>(`${base(gameId)}/value?${asked({ value })}`),
    placeholderData: keepPreviousData,
  });

export const useUnread = (gameId: number) =>
  useQuery({
    queryKey: ['reading', gameId, 'unread'],
    queryFn: () => api.get<UnreadView>(`${base(gameId)}/unread`),
  });
