import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { layouts } from './layouts';
import { indexedLayout, keyedLayout, paletteOf } from './palette';
import { psnr, type Pixels } from './pixels';

const rgb = layouts.get('rgb8')!;
const texels = (...colours: readonly (readonly number[])[]): Pixels => ({
  width: colours.length,
  height: 1,
  data: Uint8Array.from(
    colours.flatMap(([red = 0, green = 0, blue = 0, alpha = 255]) => [red, green, blue, alpha]),
  ),
});

describe('numbered colours', () => {
  const four = paletteOf(
    Uint8Array.from([0, 0, 0, 255, 0, 0, 0, 255, 0, 255, 0, 0]),
    rgb,
    undefined,
    undefined,
  );

  test('each texel gets the nearest colour; of two alike the first', () => {
    const layout = indexedLayout(four, 8);
    expect([...layout.encode!(texels([250, 9, 9], [10, 5, 0], [250, 9, 9], [90, 240, 30]))]).toEqual([
      1, 0, 1, 2,
    ]);
    expect(layout.alpha).toBe('none');
    expect([...layout.decode(Uint8Array.of(2, 3, 9), 3, 1).data]).toEqual([
      0, 255, 0, 255, 255, 0, 0, 255, 0, 0, 0, 0,
    ]);
  });

  test('one number that is see-through is never taken for its colour', () => {
    const layout = indexedLayout(
      { ...four, clear: 1, colours: four.colours.map((v, i) => (i === 7 ? 0 : v)) },
      8,
    );
    expect(layout.alpha).toBe('one bit');
    expect([...layout.encode!(texels([255, 0, 0], [255, 0, 0, 0], [0, 0, 0, 127]))]).toEqual([3, 1, 1]);
  });

  test('a layout of few bits has only the first colours', () => {
    expect([...indexedLayout(four, 1).encode!(texels([0, 255, 0], [200, 30, 0]))]).toEqual([0, 1]);
  });

  test('colours of six bits, and a colour that is see-through by itself', () => {
    const palette = paletteOf(
      Uint8Array.from([63, 0, 63, 21, 42, 63]),
      layouts.get('rgb6')!,
      undefined,
      Uint8Array.of(255, 0, 255, 255),
    );
    expect([...palette.colours]).toEqual([255, 0, 255, 0, 85, 170, 255, 255]);
  });

  test('a colour of a palette comes back exactly, whatever its place', () => {
    const colours = fc.uint8Array({ minLength: 3 * 2, maxLength: 3 * 256 });
    fc.assert(
      fc.property(colours, fc.array(fc.nat(255), { minLength: 1, maxLength: 60 }), (bytes, indices) => {
        const palette = paletteOf(bytes, rgb, undefined, undefined);
        const layout = indexedLayout(palette, 8);
        const stored = Uint8Array.from(indices.map((one) => one % (palette.colours.length / 4)));
        const shown = layout.decode(stored, stored.length, 1);
        expect(layout.decode(layout.encode!(shown), stored.length, 1).data).toEqual(shown.data);
        expect(layout.decode(layout.dithered(shown), stored.length, 1).data).toEqual(shown.data);
      }),
    );
  });

  test('mixed colours are farther off texel by texel, and nearer as a whole', () => {
    const grey: Pixels = { width: 64, height: 64, data: new Uint8Array(4 * 64 * 64).fill(255) };
    for (let at = 0; at < grey.data.length; at += 4) grey.data.fill(96, at, at + 3);
    const layout = indexedLayout(
      paletteOf(Uint8Array.from([0, 0, 0, 255, 255, 255]), rgb, undefined, undefined),
      1,
    );
    const mean = ({ data }: Pixels): number =>
      data.filter((_, i) => i % 4 === 0).reduce((a, b) => a + b) / 4096;
    const back = (stored: Uint8Array): Pixels => layout.decode(stored, 64, 64);
    expect(mean(back(layout.encode!(grey)))).toBe(0);
    expect(Math.abs(mean(back(layout.dithered(grey))) - 96)).toBeLessThan(4);
    const error = (of: Pixels): number => psnr(of, grey, false);
    expect(error(back(layout.dithered(grey)))).toBeLessThan(error(back(layout.encode!(grey))));
  });

  test('no palette has no colours', () => {
    expect(() => paletteOf(Uint8Array.of(1, 2), rgb, undefined, undefined)).toThrow(
      /colours of 3 bytes each/,
    );
  });
});

describe('a colour that stands for see-through', () => {
  test.each(['rgb8', 'rgb565', 'bgrx8'])('%s', (name) => {
    const layout = keyedLayout(layouts.get(name)!, Uint8Array.of(255, 0, 255, 255));
    const given = texels([255, 0, 255], [0, 0, 0, 0], [8, 16, 24]);
    const back = layout.decode(layout.encode!(given), 3, 1).data;
    // The solid one stays solid, one step beside the colour.
    expect([back[3], back[7], back[11]]).toEqual([255, 0, 255]);
    expect(back[0]).toBeGreaterThan(230);
  });
});
