import { z } from 'zod';
import { lookAtBrought, takeBrought } from '@/server/desk/exchange';
import { idOf } from '@/media/text/core/desk';
import { AskedLine, AskedTongues, By, deskOf } from '@/app/api/desk-asked';
import { receiveFile } from '@/app/api/receive';
import { ModParams, route } from '@/app/api/route-kit';

/** More than this no table of lines is; larger ones are refused while they come in. */
const MOST_BYTES = 128 << 20;
const Name = z.string().min(1).max(255);
const Asked = AskedTongues.extend({ name: Name });
const Body = z.object({
  ...AskedTongues.shape,
  blob: z.string().regex(/^[0-9a-f]{64}$/),
  name: Name,
  /** Lines that were changed here as well, and are to be as in the file. */
  theirs: z.array(AskedLine).max(100_000).default([]),
  by: By,
});

/** The body is the file itself; it is looked at, and nothing is changed. */
export const PUT = route(ModParams, async ({ params, query, request }) => {
  const { name, ...asked } = query(Asked);
  const { sha256 } = await receiveFile(request, name, MOST_BYTES);
  return { blob: sha256, ...(await lookAtBrought(await deskOf(params, asked), sha256, name)) };
});

/** Takes what a file changes that was looked at. */
export const POST = route(ModParams, async ({ params, body }) => {
  const { blob, name, theirs, by, ...asked } = await body(Body);
  return takeBrought(await deskOf(params, asked), blob, name, theirs.map(idOf), by);
});
