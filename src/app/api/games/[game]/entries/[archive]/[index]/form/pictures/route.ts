import { z } from 'zod';
import { formPictures } from '@/server/looking/forms';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

const Query = z.object({
  paths: z
    .string()
    .max(1 << 16)
    .default('[]')
    .transform((text, context) => {
      try {
        return z.array(z.string().max(1024)).parse(JSON.parse(text));
      } catch {
        context.addIssue({ code: 'custom', message: 'a list of paths as JSON' });
        return z.NEVER;
      }
    }),
  mod: z.coerce.number().int().positive().optional(),
});

/** Where the pictures are that its materials name, and others that may be its own. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { paths, mod } = query(Query);
  const { gameId, entry } = await openedBy(params);
  return formPictures(gameId, entry.path, paths, mod);
});
