import { openArchive, type Archive } from '../../archive';
import { collect, FormatError, memorySource, refOfBytes } from '../../bytes';
import { emit, planArchive } from '../../mod';
import type { Primitives } from '../../primitives';
import { asCount, asText, type Script } from '../../script';
import { layouts, type PixelLayout } from './layouts';
import { halved, type Pixels } from './pixels';

/** A picture inside a wrapper that a format script with a `picture` section describes. */
export interface WrappedPicture {
  readonly width: number;
  readonly height: number;
  readonly levels: number;
  readonly layout: PixelLayout;
  readonly archive: Archive;
}

/** The largest picture that is looked at, in texels a side. */
const MOST_SIDE = 16384;

/** Opens a wrapped picture; throws FormatError where head and pixels do not agree. */
export function openPicture(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): WrappedPicture {
  const { picture } = script;
  if (!picture) throw new FormatError('script-wrong', { expected: "a 'picture' section", actual: 'none' });
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const row = archive.entries[0]?.row;
  const wanted = asText(picture.layout.run(archive.context, row));
  const layout = layouts.get(wanted);
  const facts = { file: name, fieldPath: 'picture' };
  if (!layout)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `a pixel layout: ${layouts.names().join(', ')}`,
      actual: wanted,
    });
  const width = asCount(picture.width.run(archive.context, row));
  const height = asCount(picture.height.run(archive.context, row));
  const levels = picture.levels ? asCount(picture.levels.run(archive.context, row)) : 1;
  if (width < 1 || height < 1 || width > MOST_SIDE || height > MOST_SIDE || levels < 1 || levels > 15)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `1 to ${MOST_SIDE} texels a side, 1 to 15 levels`,
      actual: `${width} x ${height}, ${levels} levels`,
    });
  const found = { width, height, levels, layout, archive };
  const total = levelOffset(found, levels);
  const { size } = archive.entries[0]!;
  if (size !== total)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `${total} bytes for ${levels} levels of ${layout.name}`,
      actual: `${size}`,
    });
  return found;
}

const sizeAt = (length: number, level: number): number => Math.max(1, length >> level);

/** Where a level begins in the pixel bytes. */
function levelOffset(
  { width, height, layout }: Pick<WrappedPicture, 'width' | 'height' | 'layout'>,
  level: number,
): number {
  let at = 0;
  for (let i = 0; i < level; i++) at += layout.levelLength(sizeAt(width, i), sizeAt(height, i));
  return at;
}

/** Texels of one level, 0 being the largest. */
export function decodeLevel(picture: WrappedPicture, level = 0): Pixels {
  const bytes = collect(picture.archive.plain(picture.archive.entries[0]!));
  const at = levelOffset(picture, level);
  const end = levelOffset(picture, level + 1);
  return picture.layout.decode(
    bytes.subarray(at, end),
    sizeAt(picture.width, level),
    sizeAt(picture.height, level),
  );
}

/**
 * The wrapper with other pixels of the same size: all levels made anew, every field that depends on them
 * recomputed by the script, everything else kept.
 */
export function replacePixels(picture: WrappedPicture, pixels: Pixels): Uint8Array {
  if (pixels.width !== picture.width || pixels.height !== picture.height)
    throw new FormatError('does-not-fit', {
      expected: `${picture.width} x ${picture.height} texels`,
      actual: `${pixels.width} x ${pixels.height}`,
    });
  const parts: Uint8Array[] = [];
  for (let level = 0, current = pixels; level < picture.levels; level++, current = halved(current))
    parts.push(picture.layout.encode(current));
  const body = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    body.set(part, at);
    at += part.length;
  }
  const plan = planArchive(picture.archive, new Map([[0, refOfBytes(body)]]));
  const out = new Uint8Array(plan.length);
  let done = 0;
  emit(plan.files[0]!, {
    write(bytes) {
      out.set(bytes, done);
      done += bytes.length;
    },
  });
  plan.discard();
  return out;
}
