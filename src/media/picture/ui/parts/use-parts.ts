'use client';
import { keepPreviousData, useQuery, type UseQueryResult } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useMemo } from 'react';
import type { AtlasView } from '@/server/looking/atlas';
import type { Retouch } from '@/server/mods/retouch';
import { api } from '@/ui/api';
import type { ChannelSource } from '../light-table/ChannelMap';

/** How the parts of a sheet are told; `list` as undefined takes the one beside it, and as '' the gaps. */
export interface PartsBy {
  readonly list: string | undefined;
  readonly gap: number;
  readonly threshold: number;
}

export function useParts(
  source: ChannelSource,
  modId: number | undefined,
  by: PartsBy,
): UseQueryResult<AtlasView> {
  const { gameId, archiveId, index } = source;
  const { list, gap, threshold } = useDeferredValue(by);
  const query = new URLSearchParams({
    gap: String(gap),
    threshold: String(threshold),
    ...(modId !== undefined && { mod: String(modId) }),
    ...(list !== undefined && { list }),
  });
  return useQuery({
    queryKey: ['parts', gameId, archiveId, index, `${query}`],
    queryFn: ({ signal }) => api.get(`games/${gameId}/entries/${archiveId}/${index}/atlas?${query}`, signal),
    retry: false,
    placeholderData: keepPreviousData,
  });
}

/** The sheet as it would be, as an address of a picture. */
export function useSheetPicture(
  { gameId, archiveId, index }: ChannelSource,
  modId: number | undefined,
  wanted: Pick<Retouch, 'regions' | 'edits' | 'stamp'>,
): { address: string | undefined; error: Error | null; isWorking: boolean } {
  const body = useDeferredValue(JSON.stringify({ ...wanted, archive: archiveId, index, preview: true }));
  const plain = `/api/games/${gameId}/entries/${archiveId}/${index}/picture`;
  const { data, error, isFetching } = useQuery({
    queryKey: ['sheet', gameId, modId, body],
    enabled: modId !== undefined,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => api.blob(`games/${gameId}/mods/${modId}/retouch`, body, signal),
  });
  const made = useMemo(() => (data ? URL.createObjectURL(data) : undefined), [data]);
  useEffect(
    () => () => {
      if (made) URL.revokeObjectURL(made);
    },
    [made],
  );
  return { address: modId === undefined ? plain : made, error, isWorking: isFetching };
}
