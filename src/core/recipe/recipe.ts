import { z } from 'zod';
import { MEDIA_WAYS, STORED, type MediumWays } from '@/media/ways';
import { KINDS } from '../kinds';

/** How entries are changed on the way, by the name of the way; `stored` leaves the plain bytes as they are. */
export type Conversion = string;

/** The shape of a choice: for each medium that can be taken out in several ways one of them; `stored` where nothing is said. */
export const conversionsOf = (media: readonly (readonly [kind: string, MediumWays])[]) =>
  z
    .strictObject(
      Object.fromEntries(
        media.map(([kind, { ways }]) => [
          kind,
          z.enum([STORED, ...ways].map(({ name }) => name)).default(STORED.name),
        ]),
      ),
    )
    .prefault({});
export const Conversions = conversionsOf(MEDIA_WAYS);

const MOST_PATHS = 1_000_000;
const Path = z.string().min(1).max(2000);

/**
 * Saved steps: what is picked, how it is changed on the way, what it is called, where it goes. What is picked by a search is looked
 * for anew at each run.
 */
export const Recipe = z.object({
  title: z.string().trim().min(1).max(120),
  pick: z.union([
    z.strictObject({ paths: z.array(Path).min(1).max(MOST_PATHS) }),
    // Strict, so that an empty list of paths is not taken for a search that finds everything.
    z.strictObject({
      search: z.string().max(2000).default(''),
      folder: z.string().max(2000).default(''),
      kind: z.enum(KINDS).nullable().default(null),
    }),
  ]),
  convert: Conversions,
  name: z
    .object({
      how: z.enum(['tree', 'flat', 'pattern']).default('tree'),
      pattern: z.string().max(400).default(''),
    })
    .prefault({}),
  /** Folder on the machine of the worker. */
  folder: z.string().min(1).max(4096),
  /** What becomes of files that somebody changed since they were written. */
  edited: z.enum(['keep', 'replace']).default('keep'),
});
export type Recipe = z.infer<typeof Recipe>;

/** What a recipe in a file looks like: with a mark, so that other JSON is not taken for one. */
export const RecipeFile = z.object({ 'zero latch recipe': z.literal(1), recipe: Recipe });
