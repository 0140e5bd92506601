import { FormatError } from '@/core/bytes';
import type { DeepPixels, PixelLayout } from './pixel-layout';
import type { Pixels } from './pixels';

export type ColourSpace = 'sRGB' | 'linear' | 'not said';

/** A picture with all its images as they are stored: levels, layers of an array, faces of a cube, slices of a volume. */
export interface Texture {
  /** What it lies in, as people call it: DDS, KTX2, or the title of a script. */
  readonly container: string;
  /** Of the largest level, in texels. */
  readonly width: number;
  readonly height: number;
  /** Slices of the largest level; 1 but for volumes. */
  readonly depth: number;
  readonly levels: number;
  readonly layers: number;
  /** 6 for a cube, otherwise 1. */
  readonly faces: number;
  readonly layout: PixelLayout;
  readonly colourSpace: ColourSpace;
  /** Whether the file keeps texels otherwise than `image` gives them: rows, planes or bits lie in another order. */
  readonly isRearranged?: boolean;
  /** Pictures of their own in the file, where the texture is a sheet of them. */
  readonly frames?: readonly FrameOnSheet[];
  /** The spot that a program places the picture by, in texels from the upper left corner. */
  readonly origin?: { readonly x: number; readonly y: number } | undefined;
  /** The bytes of one image: as they are stored, or its texels side by side where the file has them otherwise. The place must be one that there is. */
  image(place: Place): Uint8Array;
  /**
   * The same file with other images, each as long as the one it takes the place of: everything around them is kept, and
   * what depends on them recomputed. Missing where a file of this kind is only read.
   */
  rebuild?(image: (place: Place) => Uint8Array): Uint8Array;
  /** Pixel layouts that a file of this kind could have instead. Missing where its head cannot be made anew. */
  layouts?(): readonly PixelLayout[];
  /** A file of the same kind with another layout or size, of one image in levels; throws FormatError where its head cannot say that. */
  reshape?(shape: NewShape, levels: readonly Uint8Array[]): Uint8Array;
}

/** A picture of its own in a file of several, in texels of the sheet that shows them all. */
export interface FrameOnSheet {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** The spot that it is placed by, from its own upper left corner. */
  readonly origin: { readonly x: number; readonly y: number } | undefined;
}

/** What a picture of one image becomes. */
export interface NewShape {
  readonly layout: PixelLayout;
  readonly width: number;
  readonly height: number;
  readonly levels: number;
}

/** A texture of one image in levels, held in memory. */
export const flatTexture = (
  { layout, width, height, levels }: NewShape,
  colourSpace: ColourSpace,
  images: readonly Uint8Array[],
): Texture => ({
  container: '',
  ...{ layout, width, height, levels, colourSpace },
  depth: 1,
  layers: 1,
  faces: 1,
  image: ({ level }) => images[level]!,
});

/** One image of a texture. */
export interface Place {
  readonly level: number;
  readonly layer: number;
  readonly face: number;
  readonly slice: number;
}

export const FIRST: Place = { level: 0, layer: 0, face: 0, slice: 0 };

/** The largest picture that is looked at, in texels a side. */
export const MOST_SIDE = 16384;
const MOST_IMAGES = 65536;

/** The size of a level, at least 1. */
export const sizeAt = (length: number, level: number): number => Math.max(1, Math.floor(length / 2 ** level));

/** How many levels there are down to one texel. */
export const fullLevels = (width: number, height: number, depth = 1): number =>
  Math.floor(Math.log2(Math.max(width, height, depth))) + 1;

type Shape = Pick<Texture, 'width' | 'height' | 'depth' | 'levels' | 'layers' | 'faces'>;

/** Refuses shapes that no picture has, before anything is reserved for them. */
export function checkShape(shape: Shape, file: string): void {
  const { width, height, depth, levels, layers, faces } = shape;
  const wrong = (fieldPath: string, expected: string, actual: number | string): never => {
    throw new FormatError('bad-value', { file, fieldPath, expected, actual: String(actual) });
  };
  if (!(width >= 1 && width <= MOST_SIDE)) wrong('width', `1 to ${MOST_SIDE} texels`, width);
  if (!(height >= 1 && height <= MOST_SIDE)) wrong('height', `1 to ${MOST_SIDE} texels`, height);
  if (!(depth >= 1 && depth <= 2048)) wrong('depth', '1 to 2048 slices', depth);
  const most = fullLevels(width, height, depth);
  if (!(levels >= 1 && levels <= most))
    wrong('levels', `1 to ${most} levels for ${width} x ${height} texels`, levels);
  if (faces !== 1 && faces !== 6) wrong('faces', '1 or 6', faces);
  if (!(layers >= 1 && layers * faces * levels <= MOST_IMAGES)) wrong('layers', '1 or more', layers);
}

/** Refuses a place that a texture does not have. */
export function checkPlace(texture: Texture, place: Place): void {
  const limits: [keyof Place, number][] = [
    ['level', texture.levels],
    ['layer', texture.layers],
    ['face', texture.faces],
    ['slice', sizeAt(texture.depth, place.level)],
  ];
  for (const [name, limit] of limits)
    if (!Number.isInteger(place[name]) || place[name] < 0 || place[name] >= limit)
      throw new FormatError('bad-value', {
        fieldPath: name,
        expected: `a ${name} below ${limit}`,
        actual: `${place[name]}`,
      });
}

/** Texels of one image, eight bits each. */
export function decodeImage(texture: Texture, place: Place = FIRST): Pixels {
  checkPlace(texture, place);
  const { layout, width, height } = texture;
  return layout.decode(texture.image(place), sizeAt(width, place.level), sizeAt(height, place.level));
}

/** Texels of one image in full depth, or of eight bits where the layout has no more. */
export function decodeImageDeep(texture: Texture, place: Place = FIRST): Pixels | DeepPixels {
  if (!texture.layout.decodeDeep) return decodeImage(texture, place);
  checkPlace(texture, place);
  const { layout, width, height } = texture;
  return layout.decodeDeep!(texture.image(place), sizeAt(width, place.level), sizeAt(height, place.level));
}

/** Every image of a texture, layer by layer, the largest level first. */
export function placesOf({ levels, layers, faces, depth }: Shape): Place[] {
  const places: Place[] = [];
  for (let layer = 0; layer < layers; layer++)
    for (let face = 0; face < faces; face++)
      for (let level = 0; level < levels; level++)
        for (let slice = 0; slice < sizeAt(depth, level); slice++) places.push({ level, layer, face, slice });
  return places;
}

/** Bytes of all images of a level: its slices, once for each layer and face. */
export function levelBytes({ layout, width, height, depth }: Texture, level: number): number {
  return layout.levelLength(sizeAt(width, level), sizeAt(height, level)) * sizeAt(depth, level);
}

/** Whether two textures have images of the same sizes in the same places, levels aside. */
export function sameShape(a: Shape, b: Shape): boolean {
  return (['width', 'height', 'depth', 'layers', 'faces'] as const).every((key) => a[key] === b[key]);
}
