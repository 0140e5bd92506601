import { WAYS } from './ways';

/**
 * How a mod is built: its archives anew in one of the ways of writing them; `patch`, an archive of its own with nothing but what is
 * changed, which loads last; `loose`, files in the folder in which the game looks before its archives.
 */
export const BUILD_WAYS = [...WAYS, 'patch', 'loose'] as const;
export type BuildWay = (typeof BUILD_WAYS)[number];
