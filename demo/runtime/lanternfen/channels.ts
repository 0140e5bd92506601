import type { Picture } from '../common/picture';
import { Stall } from '../common/stall';

/** Colours of a look, written `#rrggbb`. */
const colourOf = (text: string): number[] =>
  [1, 3, 5].map((at) => Number.parseInt(text.slice(at, at + 2), 16));

/** Feathers under the engine's light: red of the maps is relief, green dryness (the engine keeps wetness turned over), blue shine. */
export function lit(colour: Picture, maps: Picture, what: string): Picture {
  if (maps.width !== colour.width || maps.height !== colour.height)
    throw new Stall(
      what,
      'maps size',
      `${maps.width} by ${maps.height}, the colour has ${colour.width} by ${colour.height}`,
    );
  const rgba = Buffer.from(colour.rgba);
  for (let i = 0; i < rgba.length; i += 4) {
    const [relief = 0, dry = 0, shine = 0] = maps.rgba.subarray(i, i + 3);
    const light = (0.6 + (0.6 * relief) / 255) * (0.7 + (0.3 * dry) / 255);
    for (let c = 0; c < 3; c++)
      rgba[i + c] = Math.min(255, rgba[i + c]! * light + ((255 - dry) * shine) / 1020);
  }
  return { ...colour, rgba };
}

/** A frame in the colours that a plan gives to the areas of its mask. */
export function coloured(mask: Picture, colours: readonly string[], what: string): Picture {
  if (colours.length !== 3 || colours.some((text) => !/^#[0-9a-f]{6}$/i.test(text)))
    throw new Stall(what, 'mask colours', 'a mask takes three colours');
  const areas = colours.map(colourOf);
  const rgba = Buffer.alloc(mask.rgba.length);
  for (let i = 0; i < rgba.length; i += 4) {
    for (let c = 0; c < 3; c++)
      rgba[i + c] = Math.min(
        255,
        areas.reduce((sum, area, a) => sum + (area[c]! * mask.rgba[i + a]!) / 255, 0),
      );
    rgba[i + 3] = mask.rgba[i + 3]!;
  }
  return { ...mask, rgba };
}
