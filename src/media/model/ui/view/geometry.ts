import * as three from 'three';
import type { PackedForm, PackedPart, unpackForm } from '../../core/view/pack';

/** A form as it came, and its arrays. */
export interface ShownForm extends ReturnType<typeof unpackForm> {
  readonly form: PackedForm;
}

/** Graphics keep a layer for each shape, and no more than so many everywhere. */
const MOST_SHAPES = 1024;

/** The arrays of a part, as they are drawn. */
export function geometryOf(part: PackedPart, { floats, corners }: ShownForm): three.BufferGeometry {
  const geometry = new three.BufferGeometry();
  const set = (name: string, at: number | null | undefined, each: number): void => {
    if (at !== null && at !== undefined)
      geometry.setAttribute(name, new three.BufferAttribute(floats(at, part.vertices * each), each));
  };
  set('position', part.places, 3);
  set('normal', part.normals, 3);
  set('uv', part.coordinates[0], 2);
  set('skinIndex', part.joints, 4);
  set('skinWeight', part.weights, 4);
  if (part.shapes.length > 0 && part.shapes.length <= MOST_SHAPES) {
    geometry.morphAttributes.position = part.shapes.map(
      ({ places }) => new three.BufferAttribute(floats(places, 3 * part.vertices), 3),
    );
    geometry.morphTargetsRelative = true;
  }
  geometry.setIndex(new three.BufferAttribute(corners(part.corners, part.triangles * 3), 1));
  if (part.normals === null) geometry.computeVertexNormals();
  return geometry;
}
