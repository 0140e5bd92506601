'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api } from '@/ui/api';
import type { ToldOfPrint } from '../../core/print';
import { boxOf } from '../../core/form/form';
import { unpackForm } from '../../core/view/pack';
import type { ShownForm } from '../view/use-form';

/** What is looked at: as it is, as mended, or the pieces on the bed. */
export const STAGES = ['found', 'mended', 'bed'] as const;
export type PrintStage = (typeof STAGES)[number];

export interface ShownPrint extends ToldOfPrint {
  readonly shown: Readonly<Record<PrintStage, ShownForm>>;
}

/** Asks for a print with these settings, given as JSON; what was shown before stays until it is there. */
export function usePrint(url: string, settings: string) {
  const query = useQuery({
    queryKey: ['print', url, settings],
    queryFn: async ({ signal }) =>
      unpackForm(
        await api.buffer(`${url.replace('/api/', '')}/print?${new URLSearchParams({ settings })}`, signal),
      ),
    retry: false,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    staleTime: Infinity,
    structuralSharing: false,
  });
  const { data } = query;
  const print = useMemo(() => (data ? partedPrint(data) : undefined), [data]);
  return { ...query, print };
}

function partedPrint(shown: ShownForm): ShownPrint {
  const level = (number: number): ShownForm => {
    const parts = shown.form.parts
      .filter((part) => part.level === number)
      .map((part) => ({ ...part, level: 0 }));
    const box = boxOf(parts.map(({ places, vertices }) => ({ places: shown.floats(places, 3 * vertices) })));
    return { ...shown, form: { ...shown.form, parts, box: box ?? null } };
  };
  return {
    ...(shown.form.told as ToldOfPrint),
    shown: { found: level(0), mended: level(1), bed: level(2) },
  };
}
