import * as three from 'three';
import type { PackedForm } from '../../core/view/pack';

/** The bones of a form as they stand, each hanging on its parent, those without one on the root. */
export function standingBones({ bones }: PackedForm): { root: three.Group; all: three.Bone[] } {
  const root = new three.Group();
  const all = bones.map(({ name, place, turn, size }) => {
    const bone = new three.Bone();
    bone.name = name;
    bone.position.set(...(place as [number, number, number]));
    bone.quaternion.set(...(turn as [number, number, number, number]));
    bone.scale.set(...(size as [number, number, number]));
    return bone;
  });
  bones.forEach(({ parent }, i) => (all[parent] ?? root).add(all[i]!));
  root.updateMatrixWorld(true);
  return { root, all };
}
