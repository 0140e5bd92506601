import { FormatError } from '@/core/bytes';
import {
  checkPlace,
  decodeImage,
  sizeAt,
  usesAlpha,
  type Pixels,
  type Place,
  type Texture,
} from '@/core/media/texture';
import { refuseLarge, textureOf } from '@/platform/node/pictures';
import { openedEntry } from './opened';
import { pixelsOf, wholeEntry } from './preview';
import { pictureScriptFor } from './scripts';

/** What a light table needs to know of a picture beside its texels. */
export interface TexelFacts extends Pick<
  Texture,
  'container' | 'width' | 'height' | 'depth' | 'levels' | 'layers' | 'faces' | 'colourSpace'
> {
  readonly layout: string;
  readonly channels: string;
  readonly block: number;
  readonly alpha: boolean;
}

/** One image of a picture held in memory, with what is known of all of it. */
export async function texelsOf(
  bytes: Uint8Array,
  name: string,
  place: Place,
): Promise<{ pixels: Pixels; facts: TexelFacts }> {
  const texture = textureOf(bytes, name, pictureScriptFor);
  if (texture) refuseLarge(texture.width, texture.height, name);
  const pixels = texture ? decodeImage(texture, place) : await pixelsOf(bytes, name, place);
  const alpha = usesAlpha(pixels);
  if (!texture) {
    const { width, height } = pixels;
    const single = { width, height, depth: 1, levels: 1, layers: 1, faces: 1 };
    const facts = {
      ...single,
      container: 'picture',
      colourSpace: 'not said',
      layout: 'RGBA',
      channels: 'rgba',
      block: 1,
      alpha,
    } as const;
    return { pixels, facts };
  }
  const { container, width, height, depth, levels, layers, faces, colourSpace, layout } = texture;
  return {
    pixels,
    facts: {
      ...{ container, width, height, depth, levels, layers, faces, colourSpace },
      ...{ layout: layout.title, channels: layout.channels, block: layout.block, alpha },
    },
  };
}

/** Texels as an answer: four bytes each, rows from the top, with the facts in a header. */
export async function texelResponse(bytes: Uint8Array, name: string, place: Place): Promise<Response> {
  const { pixels, facts } = await texelsOf(bytes, name, place);
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
export async function storedBlock(
  ref: { gameId: number; archiveId: number; index: number },
  place: Place,
  x: number,
  y: number,
): Promise<{ hex: string; offset: number; layout: string }> {
  const { archive, entry } = await openedEntry(ref.gameId, ref.archiveId, ref.index);
  const texture = textureOf(wholeEntry(archive, entry), entry.path, pictureScriptFor);
  if (!texture)
    throw new FormatError('not-recognised', {
      file: entry.path,
      expected: 'texels in blocks',
      actual: 'a packed picture',
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
  const bytes = texture.image(place).subarray(offset, offset + each);
  return { hex: Buffer.from(bytes).toString('hex'), offset, layout: layout.title };
}
