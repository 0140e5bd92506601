import { FormatError } from '@/core/bytes';

/** Part of a picture that is a picture of its own; places and sizes in texels, from the upper left corner. */
export interface Region {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** More parts than any sheet has; what would give more is most likely noise. */
export const MOST_REGIONS = 4096;

/** The same parts with a number behind each name that an earlier one has, so that a name means one of them. */
export function namedApart(regions: readonly Region[]): Region[] {
  const taken = new Set<string>();
  return regions.map((region) => {
    let { name } = region;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${region.name}_${i}`;
    taken.add(name.toLowerCase());
    return { ...region, name };
  });
}

/** Refuses parts that do not lie within a picture of this size, saying which. */
export function checkRegions(regions: readonly Region[], width: number, height: number, file: string): void {
  if (regions.length > MOST_REGIONS)
    throw new FormatError('bad-value', {
      file,
      fieldPath: 'regions',
      expected: `at most ${MOST_REGIONS}`,
      actual: `${regions.length}`,
    });
  for (const [i, region] of regions.entries()) {
    const { name, x, y } = region;
    const numbers = [x, y, region.width, region.height];
    const isInside =
      numbers.every(Number.isInteger) &&
      x >= 0 &&
      y >= 0 &&
      region.width >= 1 &&
      region.height >= 1 &&
      x + region.width <= width &&
      y + region.height <= height;
    if (!isInside)
      throw new FormatError('bad-value', {
        file,
        fieldPath: `regions[${i}] ${name}`,
        expected: `a part of ${width} x ${height} texels`,
        actual: `${region.width} x ${region.height} at ${x}, ${y}`,
        remedy: 'This list may belong to another picture',
      });
  }
}
