import { availableParallelism } from 'node:os';
import { findBlockPictures, findSigned, type Guess, type SignedFile } from '@/media/picture/core/carve';
import {
  ditheringLayout,
  encodeHere,
  indexedLayout,
  isIndexed,
  layouts,
  type EncodeImage,
  type IndexedLayout,
  type PixelLayout,
  type Pixels,
  type Quality,
} from '@/media/picture/core/texture';
import { hasThreads, poolOf, type ThreadPool } from '@/platform/node/threads/pool';
import type { Answers } from '@/platform/node/threads/serve';

/** A strip of a picture that a thread encodes. */
interface StripToEncode {
  readonly layout: string;
  /** Of numbered colours what the layout is made of. */
  readonly indexed?: Pick<IndexedLayout, 'palette' | 'bits' | 'withMask' | 'isMixing'> | undefined;
  readonly quality: Quality;
  readonly width: number;
  readonly height: number;
  readonly texels: Uint8Array;
}

/** Pictures that lie in other bytes. */
export interface Carved {
  readonly files: readonly SignedFile[];
  readonly blocks: readonly Guess[];
}

/** What is asked of the threads: blocks of a strip, and the pictures in bytes. */
export type TextureRequests = {
  readonly encode: { readonly asks: StripToEncode; readonly gives: Uint8Array };
  readonly carve: { readonly asks: Uint8Array; readonly gives: Carved };
};

/** Smaller pictures are encoded sooner here than they could be sent away. */
const LEAST_TEXELS = 128 * 128;
const STRIP_TEXELS = 256 * 256;
/** Threads that rest for so long end, since each holds memory. */
const REST_MS = 30_000;

const threads = (): ThreadPool<TextureRequests> =>
  poolOf('textures', () => ({ script: 'texture-thread', most: availableParallelism(), restMs: REST_MS }));

/** Encodes a picture beside the server, strip by strip on all cores. */
export const encodeBeside: EncodeImage = async (layout, pixels, quality) => {
  const isShort = layout.block === 1 && !isIndexed(layout);
  if (!hasThreads() || isShort || pixels.width * pixels.height < LEAST_TEXELS)
    return encodeHere(layout, pixels, quality);
  const out = new Uint8Array(layout.levelLength(pixels.width, pixels.height));
  // Colours are mixed over all of a picture.
  const rows = layout.isMixing ? pixels.height : Math.max(4, Math.floor(STRIP_TEXELS / pixels.width / 4) * 4);
  const strips: Promise<void>[] = [];
  for (let y = 0; y < pixels.height; y += rows) {
    const height = Math.min(rows, pixels.height - y);
    strips.push(
      strip(layout, pixels, y, height, quality).then((blocks) =>
        out.set(blocks, layout.levelLength(pixels.width, y)),
      ),
    );
  }
  await Promise.all(strips);
  return out;
};

function strip(
  layout: PixelLayout,
  { width, data }: Pixels,
  y: number,
  height: number,
  quality: Quality,
): Promise<Uint8Array> {
  const texels = data.slice(y * width * 4, (y + height) * width * 4);
  const { palette, bits, withMask, isMixing } = layout as Partial<IndexedLayout>;
  const indexed = isIndexed(layout)
    ? { palette: palette!, bits: bits!, withMask: withMask!, isMixing }
    : undefined;
  const asked = { layout: layout.name, indexed, quality, width, height, texels };
  return threads().ask('encode', asked, [texels.buffer]);
}

/** Looks for pictures in other bytes, beside the server. */
export async function carveBeside(bytes: Uint8Array): Promise<Carved> {
  if (!hasThreads()) return carve(bytes);
  const copy = bytes.slice();
  return threads().ask('carve', copy, [copy.buffer]);
}

/** What of the blocks lies in a picture that is told by its beginning is part of that one. */
function carve(bytes: Uint8Array): Carved {
  const files = findSigned(bytes);
  const isFree = ({ offset, length }: Guess): boolean =>
    files.every((file) => offset >= file.offset + file.length || offset + length <= file.offset);
  return { files, blocks: findBlockPictures(bytes).filter(isFree) };
}

/** What a thread does with what it is sent. */
export const TEXTURE_ANSWERS: Answers<TextureRequests> = {
  carve,
  encode({ layout, indexed, quality, width, height, texels }) {
    const plain = indexed
      ? indexedLayout(indexed.palette, indexed.bits, indexed.withMask)
      : layouts.get(layout)!;
    const chosen = indexed?.isMixing ? ditheringLayout(plain) : plain;
    return chosen.encode!({ width, height, data: texels }, quality);
  },
};
