import { FormatError } from '@/core/bytes';
import {
  checkPlace,
  decodeImage,
  decodeRegion,
  shrunk,
  sizeAt,
  usesAlpha,
  type Pixels,
  type Place,
  type Rectangle,
  type Texture,
} from '@/media/picture/core/texture';
import { textureOf } from '@/media/picture/node/pictures';
import { hasLookThread, lookBeside } from './look-threads';
import type { OpenedEntry } from '../opening/opened';
import { MOST_PICTURE_BYTES, pixelsOf, wholeEntry } from './preview';
import { mediaScriptFor } from '../opening/scripts';

/** What a light table needs to know of a picture beside its texels. */
export interface TexelFacts extends Pick<
  Texture,
  'container' | 'width' | 'height' | 'depth' | 'levels' | 'layers' | 'faces' | 'colourSpace'
> {
  /** Whether the file keeps texels otherwise than they are read, so that no stored bytes of one can be shown. */
  readonly isRearranged: boolean;
  readonly layout: string;
  readonly channels: string;
  readonly block: number;
  readonly alpha: boolean;
  /** What of the image is shown, and how many of its texels a shown one stands for in each direction. */
  readonly part: Rectangle;
  readonly by: number;
}

/** An image of more texels is shown smaller at first, and then in parts of at most as many. */
export const MOST_SHOWN = 4096 * 4096;
const OVERVIEW_SIDE = 2048;

interface Shown {
  readonly pixels: Pixels;
  readonly part: Rectangle;
  readonly by: number;
}

/** An image, or a part of it, or where it is too large for that all of it made smaller. */
function shownOf(texture: Texture, place: Place, part: Rectangle | undefined): Shown {
  checkPlace(texture, place);
  if (part) {
    if (part.width * part.height > MOST_SHOWN)
      throw new FormatError('budget', {
        fieldPath: 'part',
        expected: `at most ${MOST_SHOWN} texels at a time`,
        actual: `${part.width} x ${part.height}`,
      });
    return { pixels: decodeRegion(texture, place, part), part, by: 1 };
  }
  const [width, height] = [sizeAt(texture.width, place.level), sizeAt(texture.height, place.level)];
  const all = { x: 0, y: 0, width, height };
  if (width * height <= MOST_SHOWN) return { pixels: decodeImage(texture, place), part: all, by: 1 };
  // A level that is stored is there at once; otherwise all texels are gone through.
  let level = place.level;
  while (level + 1 < texture.levels && Math.max(width, height) >> (level - place.level) > OVERVIEW_SIDE)
    level++;
  const stored = level > place.level && texture.depth === 1;
  const pixels = stored
    ? shrunk(texture, { ...place, level }, OVERVIEW_SIDE)
    : shrunk(texture, place, OVERVIEW_SIDE);
  return { pixels, part: all, by: width / pixels.width };
}

/** One image of a picture held in memory, or a part of it, with what is known of all of it. */
export async function texelsOf(
  bytes: Uint8Array,
  name: string,
  place: Place,
  wanted?: Rectangle,
): Promise<{ pixels: Pixels; facts: TexelFacts }> {
  const texture = textureOf(bytes, name, mediaScriptFor);
  const { pixels, part, by } = texture
    ? shownOf(texture, place, wanted)
    : await plainShown(bytes, name, place);
  const alpha = usesAlpha(pixels);
  if (!texture) {
    const { width, height } = pixels;
    const single = { width, height, depth: 1, levels: 1, layers: 1, faces: 1 };
    const facts = {
      ...single,
      container: 'picture',
      isRearranged: false,
      colourSpace: 'not said',
      layout: 'RGBA',
      channels: 'rgba',
      block: 1,
      alpha,
      part,
      by,
    } as const;
    return { pixels, facts };
  }
  const { container, width, height, depth, levels, layers, faces, colourSpace, layout } = texture;
  return {
    pixels,
    facts: {
      ...{ container, width, height, depth, levels, layers, faces, colourSpace },
      isRearranged: texture.isRearranged ?? false,
      ...{ layout: layout.title, channels: layout.channels, block: layout.block, alpha, part, by },
    },
  };
}

async function plainShown(bytes: Uint8Array, name: string, place: Place): Promise<Shown> {
  const pixels = await pixelsOf(bytes, name, place);
  const { width, height } = pixels;
  return { pixels, part: { x: 0, y: 0, width, height }, by: 1 };
}

/** An entry of more bytes is unpacked beside the server. */
const MOST_HERE_BYTES = 16 << 20;

/** The texels of an entry's picture, or of a part of it. */
export async function entryTexels(
  opened: OpenedEntry,
  place: Place,
  part: Rectangle | undefined,
): Promise<Response> {
  const { gameId, row, entry } = opened;
  if (entry.size > MOST_HERE_BYTES && hasLookThread() && row.sort !== 'loose') {
    const ref = { gameId, archiveId: row.id, index: entry.index };
    return responseOf(await lookBeside('texels', { ...ref, place, part }));
  }
  return texelResponse(wholeEntry(opened, MOST_PICTURE_BYTES), entry.path, place, part);
}

/** Texels as an answer: four bytes each, rows from the top, with the facts in a header. */
export async function texelResponse(
  bytes: Uint8Array,
  name: string,
  place: Place,
  part?: Rectangle,
): Promise<Response> {
  if (!hasLookThread()) return responseOf(await texelsOf(bytes, name, place, part));
  return responseOf(await lookBeside('texelsOf', { bytes, name, place, part }));
}

function responseOf({ pixels, facts }: { pixels: Pixels; facts: TexelFacts }): Response {
  return new Response(pixels.data as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'application/octet-stream',
      'cache-control': 'no-store',
      'x-texels': encodeURIComponent(
        JSON.stringify({ ...facts, at: { width: pixels.width, height: pixels.height } }),
      ),
    },
  });
}

/** The stored bytes of the block that a texel lies in, or of the texel itself where each is stored alone. */
export function storedBlock(
  opened: OpenedEntry,
  place: Place,
  x: number,
  y: number,
): { hex: string; offset: number; layout: string } {
  const { entry } = opened;
  const bytes = wholeEntry(opened, MOST_PICTURE_BYTES);
  const texture = textureOf(bytes, entry.path, mediaScriptFor);
  if (!texture || texture.isRearranged)
    throw new FormatError('not-recognised', {
      file: entry.path,
      expected: 'texels in blocks',
      actual: texture ? 'rows or planes in another order' : 'a packed picture',
    });
  checkPlace(texture, place);
  const { layout } = texture;
  const width = sizeAt(texture.width, place.level);
  const height = sizeAt(texture.height, place.level);
  if (x >= width || y >= height)
    throw new FormatError('bad-value', {
      file: entry.path,
      expected: `a texel within ${width} x ${height}`,
      actual: `${x}, ${y}`,
    });
  const each = layout.levelLength(layout.block, layout.block);
  const across = Math.ceil(width / layout.block);
  const offset = (Math.floor(y / layout.block) * across + Math.floor(x / layout.block)) * each;
  const stored = texture.image(place).subarray(offset, offset + each);
  return { hex: Buffer.from(stored).toString('hex'), offset, layout: layout.title };
}
