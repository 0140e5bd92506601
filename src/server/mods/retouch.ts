import fs from 'node:fs';
import { z } from 'zod';
import type { FitShown } from '@/core/fit';
import { checkRegions, cutRegion, placeRegion, type Region } from '@/media/picture/core/atlas';
import { Edit, edited, stamped } from '@/media/picture/core/retouch';
import type { Pixels } from '@/media/picture/core/texture';
import { resized, toPng } from '@/media/picture/node/pictures';
import { replaceEntry } from './mods';
import { pixelsOf } from '../looking/preview';
import { blobFile, keepBlob, readBlob } from '../storage/storage';
import { UserError } from '@/platform/user-error';
import { basePicture } from './base-picture';
import type { OpenedEntry } from '../opening/opened';

export const RegionShape = z.object({
  name: z.string().max(400),
  x: z.int().nonnegative(),
  y: z.int().nonnegative(),
  width: z.int().positive(),
  height: z.int().positive(),
});

const Blob = z.string().regex(/^[0-9a-f]{64}$/);

/** What is done to a picture: in this order, parts put back, edits within parts or everywhere, and something stamped on. */
export const Retouch = z.object({
  pieces: z
    .array(z.object({ region: RegionShape, name: z.string().min(1).max(255), blob: Blob }))
    .max(4096)
    .default([]),
  /** Whether pieces of another size are made to fit. */
  resize: z.boolean().default(false),
  /** Where the edits hold; empty for the whole picture. */
  regions: z.array(RegionShape).max(4096).default([]),
  edits: z.array(Edit).max(20).default([]),
  stamp: z
    .object({
      blob: Blob,
      name: z.string().min(1).max(255),
      x: z.int().min(-16384).max(16384),
      y: z.int().min(-16384).max(16384),
      /** Width that it is brought to; its own where nothing is said. */
      width: z.int().min(1).max(16384).optional(),
    })
    .optional(),
});
export type Retouch = z.infer<typeof Retouch>;

async function uploaded(blob: string, name: string): Promise<Pixels> {
  if (!fs.existsSync(blobFile(blob))) throw new UserError(410, `${name} is no longer there. Give it again.`);
  return pixelsOf(readBlob(blob), name);
}

/** The picture of an entry, as a mod has it by now, after what is to be done to it. */
export async function retouched(
  opened: OpenedEntry,
  modId: number | undefined,
  { pieces, resize, regions, edits, stamp }: Retouch,
): Promise<{ pixels: Pixels; stem: string }> {
  const base = await basePicture(opened, modId);
  let { pixels } = base;
  const all: readonly Region[] = [...pieces.map(({ region }) => region), ...regions];
  checkRegions(all, pixels.width, pixels.height, base.stem);
  for (const { region, name, blob } of pieces) {
    let piece = await uploaded(blob, name);
    const isOther = piece.width !== region.width || piece.height !== region.height;
    if (isOther && resize) piece = await resized(piece, region.width, region.height);
    pixels = placeRegion(pixels, region, piece);
  }
  if (edits.length > 0)
    if (regions.length === 0) pixels = edited(pixels, edits);
    else
      for (const region of regions)
        pixels = placeRegion(pixels, region, edited(cutRegion(pixels, region), edits));
  if (stamp) {
    let top = await uploaded(stamp.blob, stamp.name);
    if (stamp.width !== undefined && stamp.width !== top.width)
      top = await resized(top, stamp.width, Math.max(1, Math.round((top.height * stamp.width) / top.width)));
    pixels = stamped(pixels, top, stamp.x, stamp.y);
  }
  return { pixels, stem: base.stem };
}

/** Does something to the picture of an entry; what comes of it is a change like any other. */
export async function retouch(
  opened: OpenedEntry,
  modId: number,
  wanted: Retouch,
): Promise<{ fit: FitShown }> {
  const { pixels, stem } = await retouched(opened, modId, wanted);
  const png = new Uint8Array(await toPng(pixels));
  const done = [
    ...(wanted.pieces.length > 0 ? [`${wanted.pieces.length} pieces`] : []),
    ...wanted.edits.map(({ sort }) => sort),
    ...(wanted.stamp ? ['a stamp'] : []),
  ].join(', ');
  const given = {
    name: `${stem} with ${done || 'nothing'}.png`.slice(-255),
    blob: keepBlob(png),
    size: png.length,
  };
  return { fit: await replaceEntry(opened, modId, given) };
}
