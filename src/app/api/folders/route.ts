import { z } from 'zod';
import { browseFolder, makeFolder } from '@/server/games/browse-folders';
import { route } from '@/app/api/route-kit';

const Path = z.string().trim().min(1).max(4096);
const Query = z.object({ path: Path.optional() });

/** Folders of the machine that the application runs on, for choosing one. */
export const GET = route(z.object({}), ({ query }) => browseFolder(query(Query).path));
export const POST = route(z.object({}), async ({ body }) =>
  makeFolder((await body(z.object({ path: Path }))).path),
);
