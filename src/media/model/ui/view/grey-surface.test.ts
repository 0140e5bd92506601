import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import * as three from 'three';
import { GREY_USES, type Greys } from '../../core/take';
import { greySurface } from './grey-surface';

const map = new three.Texture();
/** The shader of a surface as three's own text becomes it, with all parts put in that stand by themselves. */
function shaderOf(made: three.MeshStandardMaterial): string {
  const shader = { fragmentShader: three.ShaderLib.physical.fragmentShader };
  made.onBeforeCompile(shader as never, undefined as never);
  return shader.fragmentShader.replace(
    /#include <(\w+)>/g,
    (_, chunk: keyof typeof three.ShaderChunk) => three.ShaderChunk[chunk] ?? '',
  );
}

describe('a surface with grey maps', () => {
  test('channels are read where the game packs them, turned over where it does', () => {
    const made = greySurface({}, map, {
      green: { is: 'roughness', inverted: true },
      alpha: { is: 'metal', inverted: false },
      blue: { is: 'shade', inverted: true },
    });
    const shader = shaderOf(made);
    expect(shader).toContain('roughnessFactor *= (1.0 - texelRoughness.g);');
    expect(shader).toContain('metalnessFactor *= texelMetalness.a;');
    expect(shader).toContain('( (1.0 - texture2D( aoMap, vAoMapUv ).b) - 1.0 ) * aoMapIntensity');
    expect([made.roughnessMap, made.metalnessMap, made.aoMap]).toEqual([map, map, map]);
    expect([made.roughness, made.metalness]).toEqual([1, 1]);
  });

  test('what no channel is said to be is rough and no metal; without a map as well', () => {
    for (const made of [
      greySurface({}, map, {}),
      greySurface({}, undefined, { red: { is: 'metal', inverted: false } }),
    ]) {
      expect([made.roughnessMap, made.metalnessMap, made.aoMap]).toEqual([null, null, null]);
      expect([made.roughness, made.metalness]).toEqual([1, 0]);
      expect(shaderOf(made)).toContain('roughnessFactor *= texelRoughness.g;');
    }
  });

  const channel = fc.record({ is: fc.constantFrom(...GREY_USES), inverted: fc.boolean() });
  const greys: fc.Arbitrary<Greys> = fc.record(
    { red: channel, green: channel, blue: channel, alpha: channel },
    { requiredKeys: [] },
  );
  test('two that read otherwise are two programs', () =>
    fc.assert(
      fc.property(greys, greys, (one, other) => {
        const [a, b] = [greySurface({}, map, one), greySurface({}, map, other)];
        // What three reads by itself it keeps apart by itself.
        if (a.customProgramCacheKey() === b.customProgramCacheKey()) expect(shaderOf(a)).toBe(shaderOf(b));
        else expect(one).not.toEqual(other);
      }),
      { numRuns: 400 },
    ));
});
