import { z } from 'zod';
import { KINDS } from '../kinds';

/** What pictures can become: DDS and KTX2 take all levels as they are stored. */
export const PICTURE_WAYS = ['stored', 'png', 'tga', 'dds', 'ktx2'] as const;
export type PictureWay = (typeof PICTURE_WAYS)[number];

/** How a kind is changed on the way; `stored` leaves the plain bytes as they are. */
export const CONVERSIONS = [...PICTURE_WAYS, 'wav', 'utf-8', 'pretty', 'unpacked'] as const;
export type Conversion = (typeof CONVERSIONS)[number];

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
  convert: z
    .object({
      picture: z.enum(PICTURE_WAYS).default('stored'),
      sound: z.enum(['stored', 'wav']).default('stored'),
      text: z.enum(['stored', 'utf-8', 'pretty']).default('stored'),
      archive: z.enum(['stored', 'unpacked']).default('stored'),
    })
    .prefault({}),
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
