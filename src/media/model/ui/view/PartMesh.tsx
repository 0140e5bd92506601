'use client';
import { useEffect, useMemo } from 'react';
import * as three from 'three';
import type { Material } from '../../core/form/form';
import type { Greys } from '../../core/take';
import type { PackedPart } from '../../core/view/pack';
import type { Bones, ShownForm } from './use-form';
import { surfaceOf } from './surface';
import { hueOfWeight, type ModelViewState } from './view-state';

/** One part, as the view asks for. */
export function PartMesh({
  part,
  shown,
  geometry,
  material,
  view,
  bones,
  textures,
  greys,
  shares,
}: {
  readonly part: PackedPart;
  readonly shown: ShownForm;
  readonly geometry: three.BufferGeometry;
  readonly material: Material | undefined;
  readonly view: ModelViewState;
  readonly bones: Bones | undefined;
  readonly textures: ReadonlyMap<string, three.Texture>;
  readonly greys: Greys;
  /** How much of each of its other shapes there is. */
  readonly shares: readonly number[];
}) {
  const { surface, bone } = view;
  const painted = useMemo(
    () => surfaceOf(surface, material, textures, greys),
    [surface, material, textures, greys],
  );
  useEffect(() => () => painted.dispose(), [painted]);
  useEffect(() => {
    if (surface !== 'weights') geometry.deleteAttribute('color');
    else geometry.setAttribute('color', weightHues(part, shown, bone));
  }, [surface, bone, geometry, part, shown]);
  const isMoved = bones !== undefined && part.joints !== null;
  const mesh = useMemo(() => {
    if (!isMoved) return new three.Mesh(geometry);
    const skinned = new three.SkinnedMesh(geometry);
    skinned.bind(bones.skeleton, new three.Matrix4());
    // Where its bones carry it no box tells.
    skinned.frustumCulled = false;
    return skinned;
  }, [geometry, bones, isMoved]);
  useEffect(() => {
    shares.forEach((share, i) => {
      if (mesh.morphTargetInfluences && i < mesh.morphTargetInfluences.length)
        mesh.morphTargetInfluences[i] = share;
    });
  }, [mesh, shares]);
  return <primitive object={mesh} material={painted} />;
}

function weightHues(part: PackedPart, { floats }: ShownForm, bone: number): three.BufferAttribute {
  const out = new Float32Array(3 * part.vertices);
  const joints = part.joints === null ? undefined : floats(part.joints, 4 * part.vertices);
  const weights = part.weights === null ? undefined : floats(part.weights, 4 * part.vertices);
  for (let vertex = 0; vertex < part.vertices; vertex++) {
    let weight = 0;
    for (let i = 0; i < 4; i++)
      if (joints?.[4 * vertex + i] === bone) weight += weights?.[4 * vertex + i] ?? 0;
    out.set(hueOfWeight(weight), 3 * vertex);
  }
  return new three.BufferAttribute(out, 3);
}
