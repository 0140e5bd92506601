import { openArchive, type Archive } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import type { PictureType, Script } from '@/core/script';
import { emitted } from '@/core/wrapped';
import { MOST_FRAMES, sheetOf, type FrameSheet } from './frame-sheet';
import { layoutNumbers, withOtherHead } from './reshape-wrapped';
import { placesOf, type Texture } from './texture';
import { frameFrom, frameOf, NOTHING_BESIDE, type Beside, type Frame, type FrameSpec } from './wrapped-frame';

/** A picture inside a wrapper that a format script with a `picture` section describes. */
export interface WrappedPicture extends Texture {
  readonly archive: Archive;
}

/** Opens a wrapped picture; throws FormatError where head, palette and pixels do not agree. */
export function openPicture(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
  beside: Beside = NOTHING_BESIDE,
): WrappedPicture {
  const { picture } = script;
  if (!picture) throw new FormatError('script-wrong', { expected: "a 'picture' section", actual: 'none' });
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const wanted = picture.several ? archive.entries : archive.entries.slice(0, 1);
  if (wanted.length === 0)
    throw new FormatError('part-missing', {
      file: name,
      fieldPath: 'picture',
      expected: 'an entry',
      actual: 'none',
    });
  if (wanted.length > MOST_FRAMES)
    throw new FormatError('budget', {
      ...{ file: name, fieldPath: 'picture.several' },
      expected: `at most ${MOST_FRAMES} pictures`,
      actual: `${wanted.length}`,
    });
  const frames = Array.from(wanted, (entry) => frameOf(picture, archive, entry, name, beside));
  const [first] = frames;
  if (picture.several === 'frames' && frames.length > 1)
    return fromSheet(script, archive, sheetOf(frames, name));
  const rest = { layers: 1, faces: 1, ...manyOf(picture, frames, name) };
  const shape = { width: first!.width, height: first!.height, levels: first!.levels, depth: 1, ...rest };
  const { layout } = first!;
  const frameAt = (layer: number, face: number): Frame => frames[layer * rest.faces + face]!;
  const reheads = frames.length === 1 && !first!.isRearranged && !picture.palette && !picture.key;
  return {
    container: script.title,
    ...shape,
    layout,
    colourSpace: 'not said',
    archive,
    isRearranged: first!.isRearranged,
    origin: first!.origin,
    image: ({ level, layer, face }) => frameAt(layer, face).texels(level),
    rebuild: (image) => {
      const images = placesOf(shape).map(image);
      return emitted(
        archive,
        frames.map((frame, i) => frame.stored(images.slice(i * shape.levels, (i + 1) * shape.levels))),
      );
    },
    ...(reheads && {
      layouts: () => [...layoutNumbers(script, archive).keys()],
      reshape: (to, images) => emitted(withOtherHead(script, bytes, name, primitives, to), [joined(images)]),
    }),
  };
}

function fromSheet(script: Script, archive: Archive, sheet: FrameSheet): WrappedPicture {
  let shown: Uint8Array | undefined;
  return {
    container: script.title,
    ...{ width: sheet.width, height: sheet.height, layout: sheet.layout, archive },
    ...{ depth: 1, levels: 1, layers: 1, faces: 1, colourSpace: 'not said', isRearranged: true },
    frames: sheet.placed.map(({ frame: { name, width, height, origin }, x, y }) => ({
      ...{ name, x, y, width, height, origin },
    })),
    image: () => (shown ??= sheet.pixels()),
    rebuild: (image) => emitted(archive, sheet.stored(image({ level: 0, layer: 0, face: 0, slice: 0 }))),
  };
}

/** How many layers or faces there are. Throws FormatError where they are not alike. */
function manyOf(
  { several }: PictureType,
  frames: readonly Frame[],
  file: string,
): Partial<Pick<Texture, 'layers' | 'faces'>> {
  if (frames.length === 1) return {};
  const [first] = frames;
  const other = frames.find(
    ({ width, height, levels, layout }) =>
      width !== first!.width ||
      height !== first!.height ||
      levels !== first!.levels ||
      layout.title !== first!.layout.title,
  );
  const refuse = (expected: string, actual: string): FormatError =>
    new FormatError('bad-value', {
      ...{ file, fieldPath: 'picture.several', expected, actual },
      remedy: "Say 'several: frames' for pictures of different sizes",
    });
  if (other)
    throw refuse(
      `${several} of ${first!.width} x ${first!.height}, ${first!.layout.title}`,
      `${other.name} of ${other.width} x ${other.height}, ${other.layout.title}`,
    );
  if (several === 'layers') return { layers: frames.length };
  if (frames.length % 6 !== 0) throw refuse('six faces, or six of each layer', `${frames.length}`);
  return { layers: frames.length / 6, faces: 6 };
}

function joined(images: readonly Uint8Array[]): Uint8Array {
  const body = new Uint8Array(images.reduce((sum, image) => sum + image.length, 0));
  let at = 0;
  for (const image of images) {
    body.set(image, at);
    at += image.length;
  }
  return body;
}

/** A picture that an archive describes in its rows: texels with nothing around them, which the archive tells the size of. */
export function describedPicture(spec: FrameSpec, bytes: Uint8Array): Texture {
  const frame = frameFrom(spec, bytes.length, () => bytes);
  const { width, height, levels, layout, isRearranged, origin } = frame;
  return {
    container: 'texels',
    ...{ width, height, levels, layout, isRearranged, origin },
    ...{ depth: 1, layers: 1, faces: 1, colourSpace: 'not said' },
    image: ({ level }) => frame.texels(level),
    rebuild: (image) =>
      frame.stored(
        Array.from({ length: levels }, (_, level) => image({ level, layer: 0, face: 0, slice: 0 })),
      ),
  };
}
