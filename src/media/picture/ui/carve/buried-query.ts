import type { Buried } from '@/server/looking/carve';

/** Where a buried picture lies, as the server is asked for it. */
export const buriedQuery = (buried: Buried, modId: number | undefined): string =>
  `${new URLSearchParams({
    ...Object.fromEntries(Object.entries(buried).map(([name, value]) => [name, String(value)])),
    ...(modId !== undefined && { mod: String(modId) }),
  })}`;
