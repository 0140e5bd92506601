import { checkRange, FormatError } from '@/core/bytes';
import { likelyWidths, type RunLayout } from '@/media/picture/core/carve';
import {
  encodeOver,
  layouts,
  MOST_SIDE,
  sizeAt,
  type Pixels,
  type Texture,
} from '@/media/picture/core/texture';
import type { FitShown } from '@/core/fit';
import { ChangeRow } from '@/db';
import { resized } from '@/media/picture/node/pictures';
import { prepare } from '../mods/prepare';
import { changeSlot } from '../mods/change-slot';
import { modRow, replaceEntry } from '../mods/mods';
import { said } from '../mods/wording';
import type { OpenedEntry } from '../opening/opened';
import { pixelsOf, wholeEntry } from './preview';
import { keepBlob, readBlob } from '../storage/storage';
import { carveBeside, encodeBeside, type Carved } from './texture-threads';
import { UserError } from '@/platform/user-error';

/** Where a picture lies in other bytes, and as what it is read. */
export interface Buried {
  readonly offset: number;
  /** A pixel layout; or `file`, where it is a picture in a common format of so many bytes. */
  readonly layout: string;
  readonly width: number;
  readonly height: number;
  readonly levels: number;
  readonly length: number;
}

/** What was found, and what else bytes can be read as. */
export interface CarveView extends Carved {
  readonly size: number;
  /** `each` is how many bytes a block takes, or a texel where each is stored alone. */
  readonly layouts: readonly { name: string; title: string; block: number; each: number }[];
}

/** The bytes of an entry as a mod has them by now. */
async function bytesOf(
  opened: OpenedEntry,
  modId: number | undefined,
): Promise<{ bytes: Uint8Array; path: string }> {
  const { gameId, entry } = opened;
  if (modId !== undefined) {
    await modRow(gameId, modId);
    const change = await ChangeRow.findOne({ where: { modId, ...(await changeSlot(opened)) } });
    if (change?.preparedBlob) return { bytes: readBlob(change.preparedBlob), path: entry.path };
  }
  return { bytes: wholeEntry(opened), path: entry.path };
}

/** Pictures that are buried in an entry, by how they begin or by the structure of their blocks. */
export async function carved(opened: OpenedEntry, modId: number | undefined): Promise<CarveView> {
  const { bytes } = await bytesOf(opened, modId);
  const known = layouts.names().map((name) => {
    const { title, block, levelLength } = layouts.get(name)!;
    return { name, title, block, each: levelLength(block, block) };
  });
  return { ...(await carveBeside(bytes)), size: bytes.length, layouts: known };
}

/** Bytes of an entry that are looked at as a texture. */
function textureAt(
  bytes: Uint8Array,
  path: string,
  { offset, layout: name, width, height, levels }: Buried,
): Texture {
  const layout = layouts.get(name);
  if (!layout) throw new UserError(400, `There is no pixel layout ${name}.`);
  if (width > MOST_SIDE || height > MOST_SIDE)
    throw new FormatError('bad-value', { file: path, expected: `at most ${MOST_SIDE} texels a side` });
  const places: { at: number; length: number }[] = [];
  let at = offset;
  for (let level = 0; level < levels; level++) {
    const length = layout.levelLength(sizeAt(width, level), sizeAt(height, level));
    checkRange(path, bytes.length, at, length);
    places.push({ at, length });
    at += length;
  }
  return {
    ...{ container: path, width, height, depth: 1, levels, layers: 1, faces: 1, layout },
    colourSpace: 'not said',
    image: ({ level }) => bytes.subarray(places[level]!.at, places[level]!.at + places[level]!.length),
  };
}

/** A buried picture as texels. */
export async function buriedPixels(
  opened: OpenedEntry,
  modId: number | undefined,
  buried: Buried,
): Promise<Pixels> {
  const { bytes, path } = await bytesOf(opened, modId);
  if (buried.layout === 'file') return pixelsOf(fileAt(bytes, buried), path);
  const texture = textureAt(bytes, path, buried);
  const first = texture.image({ level: 0, layer: 0, face: 0, slice: 0 });
  return texture.layout.decode(first, buried.width, buried.height);
}

function fileAt(bytes: Uint8Array, { offset, length }: Buried): Uint8Array {
  checkRange('the entry', bytes.length, offset, length);
  return bytes.subarray(offset, offset + length);
}

/** The bytes of a buried picture in a common format, as they lie. */
export async function buriedFile(
  opened: OpenedEntry,
  modId: number | undefined,
  buried: Buried,
): Promise<Uint8Array> {
  return fileAt((await bytesOf(opened, modId)).bytes, buried);
}

/** Widths at which what lies there looks most like a picture of blocks. */
export async function widthsAt(
  opened: OpenedEntry,
  modId: number | undefined,
  { offset, layout, length }: Buried,
): Promise<number[]> {
  if (!/^bc[13](-swapped)?$/.test(layout)) return [];
  const { bytes } = await bytesOf(opened, modId);
  const each = layout.startsWith('bc1') ? 8 : 16;
  const blocks = Math.floor(Math.min(length, bytes.length - offset) / each);
  return blocks < 8 ? [] : likelyWidths(bytes, { layout: layout as RunLayout, offset, blocks });
}

/** Puts a picture in the place of a buried one, as large and as long as that; all around stays as it is. */
export async function putBuried(
  opened: OpenedEntry,
  modId: number,
  buried: Buried,
  given: { name: string; blob: string },
  resize: boolean,
): Promise<FitShown> {
  const { bytes, path } = await bytesOf(opened, modId);
  const next = bytes.slice();
  if (buried.layout === 'file') {
    const old = fileAt(bytes, buried);
    const made = await prepare(
      old,
      'buried',
      'picture',
      readBlob(given.blob),
      given.name,
      new Set(resize ? ['resize'] : []),
    );
    const refusal = made.findings.find(({ state }) => state === 'does not fit');
    if (!made.bytes || refusal)
      throw new UserError(
        422,
        `${given.name} does not fit: ${refusal ? said(refusal).what : 'it cannot be made ready'}.`,
      );
    if (made.bytes.length !== old.length)
      throw new UserError(
        422,
        `${given.name} is ${made.bytes.length} bytes as it would lie there, and there is room for just ${old.length}: what follows would move, and nothing tells who counts on its place. Nothing was changed.`,
      );
    next.set(made.bytes, buried.offset);
  } else {
    let pixels = await pixelsOf(readBlob(given.blob), given.name);
    if ((pixels.width !== buried.width || pixels.height !== buried.height) && resize)
      pixels = await resized(pixels, buried.width, buried.height);
    const { images } = await encodeOver(textureAt(bytes, path, buried), pixels, 'normal', encodeBeside);
    let at = buried.offset;
    for (const image of images) {
      next.set(image, at);
      at += image.length;
    }
  }
  const stem = path.slice(path.lastIndexOf('/') + 1);
  return replaceEntry(opened, modId, { name: stem, blob: keepBlob(next), size: next.length });
}
