import { create } from 'content-disposition';
import { Readable } from 'node:stream';
import { z } from 'zod';
import { atlasOf, cutOut } from '@/server/looking/atlas';
import { RegionShape } from '@/server/mods/retouch';
import { EntryParams, Id, openedBy, route } from '@/app/api/route-kit';

const Query = z.object({
  mod: Id.optional(),
  /** Path of a list of parts; empty to find them by the gaps. */
  list: z.string().max(4096).optional(),
  threshold: z.coerce.number().int().min(0).max(254).default(0),
  gap: z.coerce.number().int().min(0).max(64).default(1),
});
const Cut = z.object({ mod: Id.optional(), regions: z.array(RegionShape).min(1).max(4096) });

/** The parts of a sheet. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { mod, list, ...options } = query(Query);
  return atlasOf(await openedBy(params), mod, list, options);
});

/** Some parts as pictures of their own, in a ZIP. */
export const POST = route(EntryParams, async ({ params, body }) => {
  const { mod, regions } = await body(Cut);
  const { stream, stem } = await cutOut(await openedBy(params), mod, regions);
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': create(`${stem} parts.zip`),
    },
  });
});
