import { z } from 'zod';
import type { Pixels } from '../texture';

const Colour = z.string().regex(/^#[0-9a-f]{6}$/i);

/** A small edit of all texels of a picture, or of a part of it. Values are whole or broken numbers as a slider gives them. */
export const Edit = z.discriminatedUnion('sort', [
  /** Multiplies by a colour; `amount` from 0 to 1 mixes with what was there. */
  z.object({ sort: z.literal('tint'), colour: Colour, amount: z.number().min(0).max(1) }),
  /** Turns the hue by degrees and multiplies the saturation. */
  z.object({
    sort: z.literal('hue'),
    degrees: z.number().min(-360).max(360),
    saturation: z.number().min(0).max(4),
  }),
  /** What is at `black` becomes 0 and what is at `white` 255; `gamma` above 1 makes what is between lighter. */
  z.object({
    sort: z.literal('levels'),
    black: z.number().min(0).max(254),
    white: z.number().min(1).max(255),
    gamma: z.number().min(0.1).max(10),
  }),
  /** Makes alpha one value throughout. */
  z.object({ sort: z.literal('alpha'), value: z.int().min(0).max(255) }),
]);
export type Edit = z.infer<typeof Edit>;

/** A picture after some edits, one after the other. Alpha only changes where an edit is of alpha. */
export const edited = (pixels: Pixels, edits: readonly Edit[]): Pixels =>
  edits.reduce((picture, edit) => apply(picture, edit), pixels);

function apply(pixels: Pixels, edit: Edit): Pixels {
  switch (edit.sort) {
    case 'tint':
      return tinted(pixels, edit.colour, edit.amount);
    case 'hue':
      return turned(pixels, edit.degrees, edit.saturation);
    case 'levels':
      return levelled(pixels, edit);
    case 'alpha':
      return withAlpha(pixels, edit.value);
  }
}

function tinted(pixels: Pixels, colour: string, amount: number): Pixels {
  const factors = [1, 3, 5].map((at) => {
    const value = parseInt(colour.slice(at, at + 2), 16) / 255;
    return 1 - amount + amount * value;
  });
  return throughTables(
    pixels,
    factors.map((factor) => table((value) => value * factor)),
  );
}

/** Hue and saturation by the matrices of Filter Effects (W3C), `hueRotate` and `saturate`. */
function turned(pixels: Pixels, degrees: number, saturation: number): Pixels {
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const [r, g, b] = [0.213, 0.715, 0.072];
  const hue = [
    [r + cos * (1 - r) - sin * r, g - cos * g - sin * g, b - cos * b + sin * (1 - b)],
    [r - cos * r + sin * 0.143, g + cos * (1 - g) + sin * 0.14, b - cos * b - sin * 0.283],
    [r - cos * r - sin * (1 - r), g - cos * g + sin * g, b + cos * (1 - b) + sin * b],
  ];
  const s = saturation;
  const saturate = [
    [r + (1 - r) * s, g - g * s, b - b * s],
    [r - r * s, g + (1 - g) * s, b - b * s],
    [r - r * s, g - g * s, b + (1 - b) * s],
  ];
  const matrix = saturate.map((row) =>
    [0, 1, 2].map((c) => row.reduce((sum, v, k) => sum + v * hue[k]![c]!, 0)),
  );
  const data = new Uint8Array(pixels.data.length);
  const from = pixels.data;
  for (let i = 0; i < from.length; i += 4) {
    for (let c = 0; c < 3; c++) {
      const row = matrix[c]!;
      data[i + c] = byteOf(row[0]! * from[i]! + row[1]! * from[i + 1]! + row[2]! * from[i + 2]!);
    }
    data[i + 3] = from[i + 3]!;
  }
  return { ...pixels, data };
}

function levelled(
  pixels: Pixels,
  { black, white, gamma }: { black: number; white: number; gamma: number },
): Pixels {
  const span = Math.max(1, white - black);
  const one = table((value) => 255 * Math.min(1, Math.max(0, (value - black) / span)) ** (1 / gamma));
  return throughTables(pixels, [one, one, one]);
}

function withAlpha(pixels: Pixels, value: number): Pixels {
  const data = pixels.data.slice();
  for (let i = 3; i < data.length; i += 4) data[i] = value;
  return { ...pixels, data };
}

const byteOf = (value: number): number => Math.min(255, Math.max(0, Math.round(value)));
const table = (work: (value: number) => number): Uint8Array =>
  Uint8Array.from({ length: 256 }, (_, value) => byteOf(work(value)));

function throughTables(pixels: Pixels, tables: readonly Uint8Array[]): Pixels {
  const data = pixels.data.slice();
  for (let i = 0; i < data.length; i += 4)
    for (let c = 0; c < 3; c++) data[i + c] = tables[c]![data[i + c]!]!;
  return { ...pixels, data };
}
