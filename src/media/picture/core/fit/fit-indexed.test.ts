import { expect, test } from '@jest/globals';
import { nodePrimitives } from '@/platform/node/primitives';
import { decodeImage, openPicture, type Pixels, type WrappedPicture } from '../texture';
import { mediaScripts } from '@/core/testing/media-scripts';
import { fitPicture } from '@/media/picture/core/fit';
import { worded, type Mend, type Prepared } from '@/core/fit';
import { pictureWording } from '../wording';

/** Pictures of numbered colours, in the shape of docs/media-scripts.md. */
const WIDTH = 40;
const HEIGHT = 30;

function bitmap(
  palette: readonly (readonly [number, number, number])[],
  indexAt: (x: number, y: number) => number,
): Uint8Array {
  const out = Buffer.alloc(54 + 1024 + WIDTH * HEIGHT);
  out.write('BM');
  for (const [at, value] of [
    [2, out.length],
    [10, 1078],
    [14, 40],
    [18, WIDTH],
    [22, HEIGHT],
  ] as const)
    out.writeUInt32LE(value, at);
  out.writeUInt16LE(1, 26);
  out.writeUInt16LE(8, 28);
  for (const [i, [red, green, blue]] of palette.entries()) out.set([blue, green, red, 0], 54 + 4 * i);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) out[1078 + (HEIGHT - 1 - y) * WIDTH + x] = indexAt(x, y);
  return new Uint8Array(out);
}

const GREYS = [0, 85, 170, 255].map((value) => [value, value, value] as const);
const open = (bytes: Uint8Array): WrappedPicture =>
  openPicture(mediaScripts.get('bitmap')!, bytes, 'slot', nodePrimitives);
const slot = open(bitmap(GREYS, (x, y) => (x + y) & 3));
const fit = (given: Pixels, ...mends: Mend[]): Promise<Prepared> =>
  fitPicture(slot, { pixels: given }, new Set(mends), { resize: (pixels) => pixels });
const ramp = (): Pixels => {
  const { width, height, data } = decodeImage(slot);
  const out = data.slice();
  // The lower half becomes a ramp that the palette has not.
  for (let y = 15; y < height; y++)
    for (let x = 0; x < width; x++)
      out.fill(Math.round((x / (width - 1)) * 255), 4 * (y * width + x), 4 * (y * width + x) + 3);
  return { width, height, data: out };
};

test('the nearest colours are taken, the palette and what did not change stay', async () => {
  const { bytes, findings } = await fit(ramp());
  const before = bitmap(GREYS, (x, y) => (x + y) & 3);
  // Rows from the bottom: the upper half lies behind.
  expect(bytes!.subarray(1078 + 15 * WIDTH)).toEqual(before.subarray(1078 + 15 * WIDTH));
  expect(bytes!.subarray(0, 1078)).toEqual(before.subarray(0, 1078));
  const [found] = findings;
  expect(found).toMatchObject({ state: 'look', code: 'picture.nearest-colours', mend: 'dither' });
  expect(worded(found!, { picture: pictureWording }).what).toMatch(
    /^256 colours by number, 40 x 30, 1 level, nearest colours, red 2\d\.\d dB/,
  );
});

test('mixed colours, when they are asked for', async () => {
  const nearest = decodeImage(open((await fit(ramp())).bytes!));
  const { bytes, findings } = await fit(ramp(), 'dither');
  const mixed = decodeImage(open(bytes!));
  const meanOf = ({ data }: Pixels, x: number): number => {
    let sum = 0;
    for (let y = 16; y < 30; y++) sum += data[4 * (y * WIDTH + x)]!;
    return sum / 14;
  };
  // A column whose grey lies between two colours: the nearest one everywhere, or some of both.
  const wanted = meanOf(ramp(), 19);
  expect(Math.abs(meanOf(nearest, 19) - wanted)).toBeGreaterThan(30);
  expect(Math.abs(meanOf(mixed, 19) - wanted)).toBeLessThan(30);
  expect(findings[0]!.code).toBe('picture.mixed-colours');
  expect(findings[0]!.mend).toBeUndefined();
});

test('a picture of the same palette goes in as it is stored, one of another palette is coded anew', async () => {
  const give = async (bytes: Uint8Array): Promise<Prepared> => {
    const texture = open(bytes);
    const given = { texture, pixels: decodeImage(texture) };
    return fitPicture(slot, given, new Set(), { resize: (pixels) => pixels });
  };
  const same = bitmap(GREYS, (x) => x & 3);
  expect((await give(same)).findings[0]!.code).toBe('picture.taken-as-given');
  expect((await give(same)).bytes).toEqual(same);
  const turned = bitmap([...GREYS].reverse(), (x) => 3 - (x & 3));
  const { bytes, findings } = await give(turned);
  expect(bytes).toEqual(same);
  expect(findings[0]).toMatchObject({ state: 'fits' });
});
