'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api } from '@/ui/api';
import type { ToldOfPrint } from '../../core/print';
import type { Box } from '../../core/form/form';
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
    return { ...shown, form: { ...shown.form, parts, box: boxOf(parts, shown) } };
  };
  return {
    ...(shown.form.told as ToldOfPrint),
    shown: { found: level(0), mended: level(1), bed: level(2) },
  };
}

function boxOf(parts: ShownForm['form']['parts'], { floats }: ShownForm): Box | null {
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const { places, vertices } of parts)
    floats(places, 3 * vertices).forEach((value, i) => {
      const axis = (i % 3) as 0 | 1 | 2;
      low[axis] = Math.min(low[axis], value);
      high[axis] = Math.max(high[axis], value);
    });
  return low[0] <= high[0] ? { low, high } : null;
}
