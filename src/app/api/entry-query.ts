import { z } from 'zod';
import { KINDS } from '@/core/kinds';
import { SORTS } from '@/core/catalogue';
import type { EntryQuery } from '@/server/entries/entries';
import { Id } from './route-kit';

/** What a list of entries is asked for in an address. */
export const EntryQueryParams = z.object({
  folder: z.string().max(2000).default(''),
  search: z.string().max(2000).default(''),
  kind: z.enum(KINDS).optional(),
  archive: Id.optional(),
  sort: z.enum(SORTS).default('path'),
  order: z.enum(['up', 'down']).default('up'),
});

export function entryQuery(
  gameId: number,
  { archive, order, kind, ...rest }: z.infer<typeof EntryQueryParams>,
): Omit<EntryQuery, 'offset' | 'limit'> {
  return { ...rest, kind, gameId, archiveId: archive, isDescending: order === 'down' };
}
