import { openArchive, type Archive } from '../../archive';
import { collect, FormatError, memorySource, refOfBytes } from '../../bytes';
import { emit, planArchive } from '../../mod';
import type { Primitives } from '../../primitives';
import { asCount, asText, type Script } from '../../script';
import { layouts } from './layouts';
import { layoutNumbers, withOtherHead } from './reshape-wrapped';
import { checkShape, placesOf, sizeAt, type Texture } from './texture';

/** A picture inside a wrapper that a format script with a `picture` section describes. */
export interface WrappedPicture extends Texture {
  readonly archive: Archive;
}

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
  const shape = { width, height, levels, depth: 1, layers: 1, faces: 1 };
  checkShape(shape, name);
  const offsets = [0];
  for (let level = 0; level < levels; level++)
    offsets.push(offsets[level]! + layout.levelLength(sizeAt(width, level), sizeAt(height, level)));
  const total = offsets[levels]!;
  const { size } = archive.entries[0]!;
  if (size !== total)
    throw new FormatError('bad-value', {
      ...facts,
      expected: `${total} bytes for ${levels} levels of ${layout.name}`,
      actual: `${size}`,
    });
  let plain: Uint8Array | undefined;
  return {
    container: script.title,
    ...shape,
    layout,
    colourSpace: 'not said',
    archive,
    image({ level }) {
      plain ??= collect(archive.plain(archive.entries[0]!));
      return plain.subarray(offsets[level], offsets[level + 1]);
    },
    rebuild: (image) => rewrap(archive, placesOf(shape).map(image)),
    layouts: () => [...layoutNumbers(script, archive).keys()],
    reshape: (wanted, images) => rewrap(withOtherHead(script, bytes, name, primitives, wanted), images),
  };
}

/** The wrapper with other stored levels, the largest first, every field that depends on them recomputed by the script. */
function rewrap(archive: Archive, images: readonly Uint8Array[]): Uint8Array {
  const body = new Uint8Array(images.reduce((sum, image) => sum + image.length, 0));
  let at = 0;
  for (const image of images) {
    body.set(image, at);
    at += image.length;
  }
  const plan = planArchive(archive, new Map([[0, refOfBytes(body)]]));
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
