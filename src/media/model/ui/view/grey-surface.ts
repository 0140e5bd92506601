import * as three from 'three';
import type { Greys, GreyUse } from '../../core/take';

const CHANNELS = [
  ['red', 'r'],
  ['green', 'g'],
  ['blue', 'b'],
  ['alpha', 'a'],
] as const;

/** What is read of a texel for a use, in the language of shaders; undefined where no channel is said to be that. */
function reading(greys: Greys, use: GreyUse, texel: string): string | undefined {
  let found: string | undefined;
  for (const [channel, letter] of CHANNELS) {
    const said = greys[channel];
    if (said?.is === use) found = said.inverted ? `(1.0 - ${texel}.${letter})` : `${texel}.${letter}`;
  }
  return found;
}

/** Places in three's own shaders where it reads a packed map as glTF packs it. */
const READS = {
  roughness: ['roughnessmap_fragment', 'texelRoughness'],
  metal: ['metalnessmap_fragment', 'texelMetalness'],
} as const;

/**
 * A surface that a grey map says of how rough, how much metal and how much light comes in: channels are read where the game packs them, so
 * that no texel is moved. What no channel is said to be is rough, and no metal.
 */
export function greySurface(
  options: three.MeshStandardMaterialParameters,
  map: three.Texture | undefined,
  greys: Greys,
): three.MeshStandardMaterial {
  const rough = map && reading(greys, 'roughness', READS.roughness[1]);
  const metal = map && reading(greys, 'metal', READS.metal[1]);
  const shade = map && reading(greys, 'shade', 'texture2D( aoMap, vAoMapUv )');
  const made = new three.MeshStandardMaterial({
    ...options,
    roughness: 1,
    metalness: metal === undefined ? 0 : 1,
    ...(rough !== undefined && map && { roughnessMap: map }),
    ...(metal !== undefined && map && { metalnessMap: map }),
    ...(shade !== undefined && map && { aoMap: map }),
  });
  made.onBeforeCompile = (shader) => {
    const swap = (chunk: keyof typeof three.ShaderChunk, from: string, to: string | undefined): void => {
      if (to === undefined) return;
      const whole = three.ShaderChunk[chunk];
      shader.fragmentShader = shader.fragmentShader.replace(`#include <${chunk}>`, whole.replace(from, to));
    };
    swap(READS.roughness[0], 'texelRoughness.g', rough);
    swap(READS.metal[0], 'texelMetalness.b', metal);
    swap('aomap_fragment', 'texture2D( aoMap, vAoMapUv ).r', shade);
  };
  made.customProgramCacheKey = () => [rough, metal, shade].join();
  return made;
}
