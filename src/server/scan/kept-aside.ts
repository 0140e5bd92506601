/** Endings under which people and tools keep what they are about to overwrite. */
export const ASIDE_ENDINGS = ['.bak', '.backup', '.orig', '.original', '.old', '~'] as const;

/** Whether a file is the copy of another one that somebody kept aside. No game reads it, so it has no part in the load order. */
export const isKeptAside = (name: string): boolean =>
  ASIDE_ENDINGS.some((ending) => name.toLowerCase().endsWith(ending));
