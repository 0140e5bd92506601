import type { GreyUse, Greys } from './settings';

const CHANNELS = ['red', 'green', 'blue', 'alpha'] as const;
/** Where glTF 2.0 has them (Khronos, 3.9.2 and 3.9.3): red is how much light comes in, green how rough it is, blue how much metal. */
const PLACES: Readonly<Record<Exclude<GreyUse, 'none'>, number>> = { shade: 0, roughness: 1, metal: 2 };
/** What stands where a game says nothing: all light, rough, no metal. */
const USUAL = [255, 255, 0] as const;

export const saysAnything = (greys: Greys): boolean =>
  CHANNELS.some((channel) => (greys[channel]?.is ?? 'none') !== 'none');

/** A packed map of a game as glTF wants it: red, green, blue of each texel from red, green, blue, alpha. */
export function regreyed(texels: Uint8Array, greys: Greys): Uint8Array {
  const out = new Uint8Array((texels.length / 4) * 3);
  for (let i = 0; i < out.length; i += 3) out.set(USUAL, i);
  CHANNELS.forEach((channel, from) => {
    const { is, inverted } = greys[channel] ?? { is: 'none', inverted: false };
    if (is === 'none') return;
    const to = PLACES[is];
    for (let i = 0; 4 * i < texels.length; i++) {
      const value = texels[4 * i + from]!;
      out[3 * i + to] = inverted ? 255 - value : value;
    }
  });
  return out;
}
