'use client';
import { useEffect, useMemo } from 'react';
import * as three from 'three';
import type { Material } from '../../core/form/form';
import type { PackedPart } from '../../core/view/pack';
import type { Bones, ShownForm } from './use-form';
import { hueOfWeight, type ModelViewState } from './view-state';

const PLAIN = '#c9c1ad';

/** One part, as the view asks for. */
export function PartMesh({
  part,
  shown,
  geometry,
  material,
  view,
  bones,
  textures,
}: {
  readonly part: PackedPart;
  readonly shown: ShownForm;
  readonly geometry: three.BufferGeometry;
  readonly material: Material | undefined;
  readonly view: ModelViewState;
  readonly bones: Bones | undefined;
  readonly textures: ReadonlyMap<string, three.Texture>;
}) {
  const { surface, bone } = view;
  const painted = useMemo(() => surfaceOf(surface, material, textures), [surface, material, textures]);
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
  return <primitive object={mesh} material={painted} />;
}

function surfaceOf(
  surface: ModelViewState['surface'],
  material: Material | undefined,
  textures: ReadonlyMap<string, three.Texture>,
): three.Material {
  const side = three.DoubleSide;
  if (surface === 'normals') return new three.MeshNormalMaterial({ side });
  if (surface === 'weights') return new three.MeshLambertMaterial({ vertexColors: true, side });
  if (surface === 'wire') return new three.MeshBasicMaterial({ color: '#4f8f88', wireframe: true });
  if (surface === 'plain' || !material) return new three.MeshLambertMaterial({ color: PLAIN, side });
  const { pictures, colour } = material;
  const map = pictures.colour === undefined ? undefined : textures.get(pictures.colour);
  const normalMap = pictures.normal === undefined ? undefined : textures.get(pictures.normal);
  const emissiveMap = pictures.glow === undefined ? undefined : textures.get(pictures.glow);
  const made = new three.MeshStandardMaterial({
    ...{ side, roughness: 0.85, metalness: 0 },
    ...(map && { map }),
    ...(normalMap && { normalMap }),
    ...(emissiveMap && { emissiveMap, emissive: new three.Color('#ffffff') }),
  });
  made.color.setRGB(colour[0], colour[1], colour[2]);
  if (!map && colour.every((value) => value === 1)) made.color.set(PLAIN);
  // Texels that are hardly there are not drawn; soft ones are.
  if (map || colour[3] < 1) {
    made.transparent = colour[3] < 1 || map?.userData.isSeeThrough === true;
    made.opacity = colour[3];
    made.alphaTest = 0.02;
  }
  return made;
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
