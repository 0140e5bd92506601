import {
  type Accessor,
  type Animation,
  type Document,
  type Material as GltfMaterial,
  type Node,
  type Primitive,
} from '@gltf-transform/core';
import { FormatError } from '@/core/bytes';
import { turnedOver } from '../form/axes';
import type { Bone, Clip, Form, Material, Part, Quadruple, Track, Triple } from '../form/form';
import { fromStrip, upTo } from '../streams/triangles';
import { IDENTITY, inverseOf, takenApart, times, type Matrix } from '../form/turns';

/** A part before anybody says what it is called. */
type BarePart = Omit<Part, 'name' | 'level' | 'material'>;

const TRIANGLES = 4;
const STRIP = 5;
const FAN = 6;

/** Vertices and corners of all parts together: a mesh may be hung on any number of nodes. */
const MOST_TOGETHER = 40_000_000;

/** A form of a glTF 2.0 document. What no skin moves stands where its node puts it; nodes that clips move are bones. */
export function formOf(document: Document, file: string): Form {
  const root = document.getRoot();
  const skins = root.listSkins();
  const bones = boneNodes(document);
  const number = new Map(bones.map((node, i) => [node, i]));
  const inverse = new Map<Node, number[]>();
  for (const skin of skins) {
    const bound = skin.getInverseBindMatrices();
    skin.listJoints().forEach((joint, i) => {
      if (bound && !inverse.has(joint)) inverse.set(joint, bound.getElement(i, []));
    });
  }
  const materials = root.listMaterials();
  const parts: Part[] = [];
  let together = 0;
  for (const node of root.listNodes()) {
    const mesh = node.getMesh();
    if (!mesh) continue;
    const skin = node.getSkin();
    const joints = skin?.listJoints().map((joint) => number.get(joint)!);
    const stands = skin ? IDENTITY : node.getWorldMatrix();
    const said = node.getExtras().level;
    mesh.listPrimitives().forEach((primitive) => {
      together += sizeOf(primitive);
      if (together > MOST_TOGETHER)
        throw new FormatError('budget', {
          ...{ file, fieldPath: `nodes[${node.getName()}].mesh` },
          expected: `at most ${MOST_TOGETHER} vertices and corners on all nodes`,
          actual: 'more',
        });
      const part = partOf(primitive, file, node.getName() || mesh.getName());
      if (!part) return;
      const bound =
        joints && part.joints ? { ...part, joints: part.joints.map((joint) => joints[joint] ?? 0) } : part;
      parts.push({
        ...moved(joints ? bound : hungOn(bound, node, number), stands),
        name: node.getName() || mesh.getName() || `part ${parts.length}`,
        level: typeof said === 'number' && Number.isInteger(said) && said > 0 ? said : 0,
        material: materials.indexOf(primitive.getMaterial()!),
      });
    });
  }
  return {
    parts,
    materials: materials.map(materialOf),
    bones: bones.map((node, i): Bone => {
      const above = nearestBone(node.getParentNode(), number);
      const own = above
        ? times(inverseOf(above.getWorldMatrix()) ?? IDENTITY, node.getWorldMatrix())
        : undefined;
      const isDirect = node.getParentNode() === above && above;
      const stands =
        isDirect || (!above && !node.getParentNode()) ? undefined : (own ?? node.getWorldMatrix());
      return {
        name: node.getName() || `bone ${i}`,
        parent: above ? number.get(above)! : -1,
        ...(stands ? takenApart(stands) : ownOf(node)),
        inverse: inverse.get(node),
      };
    }),
    clips: root.listAnimations().map((animation, i): Clip => {
      const { group, rate, loop } = animation.getExtras();
      return {
        name: animation.getName() || `clip ${i}`,
        group: typeof group === 'string' ? group : '',
        rate: typeof rate === 'number' && rate > 0 ? rate : 0,
        isLoop: loop === true,
        ...framesOfAnimation(animation),
        tracks: animation.listChannels().flatMap((channel): Track[] => {
          const bone = number.get(channel.getTargetNode()!);
          const sampler = channel.getSampler();
          const path = channel.getTargetPath();
          const input = sampler?.getInput();
          const output = sampler?.getOutput();
          if (bone === undefined || !input || !output || path === 'weights' || !path) return [];
          const sort = path === 'rotation' ? 'turn' : path === 'translation' ? 'place' : 'size';
          const each = sort === 'turn' ? 4 : 3;
          return [
            {
              ...{ bone, sort, times: floats(input, 1) },
              values: keysOf(floats(output, each), each, sampler!.getInterpolation()),
            },
          ];
        }),
      };
    }),
  };
}

/** Shapes that an animation shows one after the other, as `documentOf` wrote them; of any other change of shapes nothing is kept. */
function framesOfAnimation(animation: Animation): Pick<Clip, 'frames'> {
  const { frames } = animation.getExtras();
  if (!isRecord(frames)) return {};
  const { first, count } = frames;
  const isCount = (value: unknown): value is number =>
    typeof value === 'number' && Number.isInteger(value) && value >= 0 && value < 1e6;
  return isCount(first) && isCount(count) ? { frames: { first, count } } : {};
}

const sizeOf = (primitive: Primitive): number =>
  (primitive.getAttribute('POSITION')?.getCount() ?? 0) + (primitive.getIndices()?.getCount() ?? 0);

/** Keys of a cubic spline stand between two slopes each (glTF 2.0, appendix C); the slopes are left out. */
function keysOf(values: Float32Array, each: number, interpolation: string): Float32Array {
  if (interpolation !== 'CUBICSPLINE') return values;
  const out = new Float32Array(values.length / 3);
  for (let key = 0; key * each < out.length; key++)
    out.set(values.subarray((3 * key + 1) * each, (3 * key + 2) * each), key * each);
  return out;
}

/** Joints of skins, and whatever clips move, in the order of the document; those that they hang on stand before them. */
function boneNodes(document: Document): Node[] {
  const root = document.getRoot();
  const wanted = new Set<Node>();
  for (const skin of root.listSkins()) for (const joint of skin.listJoints()) wanted.add(joint);
  for (const animation of root.listAnimations())
    for (const channel of animation.listChannels()) {
      const node = channel.getTargetNode();
      // What only changes its shape is no bone.
      if (node && channel.getTargetPath() !== 'weights') wanted.add(node);
    }
  return [...wanted];
}

function nearestBone(node: Node | null, known: ReadonlyMap<Node, number>): Node | undefined {
  for (let at = node; at; at = at.getParentNode()) if (known.has(at)) return at;
  return undefined;
}

const ownOf = (node: Node): Pick<Bone, 'place' | 'turn' | 'size'> => ({
  place: node.getTranslation() as Triple,
  turn: node.getRotation() as Quadruple,
  size: node.getScale() as Triple,
});

/** A part without a skin that hangs on a bone is moved by that one alone. */
function hungOn(part: BarePart, node: Node, bones: ReadonlyMap<Node, number>): BarePart {
  const bone = nearestBone(node, bones);
  if (!bone) return part;
  const count = part.places.length / 3;
  const joints = new Uint16Array(4 * count);
  const weights = new Float32Array(4 * count);
  for (let i = 0; i < count; i++) {
    joints[4 * i] = bones.get(bone)!;
    weights[4 * i] = 1;
  }
  return { ...part, joints, weights };
}

function floats(accessor: Accessor, wanted: number): Float32Array {
  const count = accessor.getCount();
  const has = accessor.getElementSize();
  const array = accessor.getArray();
  if (array instanceof Float32Array && has === wanted) return array;
  const out = new Float32Array(count * wanted);
  const one: number[] = [];
  for (let i = 0; i < count; i++) {
    accessor.getElement(i, one);
    for (let j = 0; j < wanted; j++) out[i * wanted + j] = j < has ? one[j]! : j === 3 ? 1 : 0;
  }
  return out;
}

function partOf(primitive: Primitive, file: string, name: string): BarePart | undefined {
  const places = primitive.getAttribute('POSITION');
  const mode = primitive.getMode();
  if (!places || mode < TRIANGLES) return undefined;
  const count = places.getCount();
  const take = (semantic: string, each: number): Float32Array | undefined => {
    const accessor = primitive.getAttribute(semantic);
    if (!accessor) return undefined;
    if (accessor.getCount() !== count)
      throw new FormatError('bad-value', {
        ...{
          file,
          fieldPath: `${name}.${semantic}`,
          expected: `${count} of them`,
          actual: `${accessor.getCount()}`,
        },
      });
    return floats(accessor, each);
  };
  const indices = primitive.getIndices();
  const corners = indices ? new Uint32Array(indices.getArray() ?? []) : upTo(count);
  const sets = [0, 1, 2, 3].map((set) => take(`TEXCOORD_${set}`, 2)).filter((set) => set !== undefined);
  const joints = take('JOINTS_0', 4);
  return {
    places: floats(places, 3),
    normals: take('NORMAL', 3),
    tangents: take('TANGENT', 4),
    colours: take('COLOR_0', 4),
    coordinates: sets,
    joints: joints && new Uint16Array(joints),
    weights: take('WEIGHTS_0', 4),
    triangles: trianglesFrom(corners, mode),
    morphs: primitive.listTargets().flatMap((target, i) => {
      const moved = target.getAttribute('POSITION');
      return moved ? [{ name: target.getName() || `shape ${i}`, places: floats(moved, 3) }] : [];
    }),
  };
}

function trianglesFrom(corners: Uint32Array, mode: number): Uint32Array {
  if (mode === STRIP) return fromStrip(corners, undefined);
  if (mode !== FAN) return corners.slice(0, corners.length - (corners.length % 3));
  const out: number[] = [];
  for (let i = 1; i + 1 < corners.length; i++) out.push(corners[0]!, corners[i]!, corners[i + 1]!);
  return Uint32Array.from(out);
}

/** A part where a matrix puts it. */
function moved<T extends BarePart>(part: T, matrix: Matrix): T {
  if (matrix.every((value, i) => value === IDENTITY[i])) return part;
  const back = inverseOf(matrix) ?? IDENTITY;
  const volume = inverseOf(matrix) ? Math.sign(determinant(matrix)) : 1;
  const directions = (values: Float32Array, each: 3 | 4, isNormal: boolean): Float32Array => {
    const out = values.slice();
    for (let i = 0; i < values.length; i += each) {
      const [x, y, z] = [values[i]!, values[i + 1]!, values[i + 2]!];
      const to = [0, 1, 2].map((row) =>
        isNormal
          ? back[4 * row]! * x + back[4 * row + 1]! * y + back[4 * row + 2]! * z
          : matrix[row]! * x + matrix[4 + row]! * y + matrix[8 + row]! * z,
      );
      const length = Math.hypot(...to) || 1;
      for (let j = 0; j < 3; j++) out[i + j] = to[j]! / length;
    }
    return out;
  };
  const vectors = (values: Float32Array, isPlace: boolean): Float32Array => {
    const out = new Float32Array(values.length);
    for (let i = 0; i < out.length; i += 3)
      for (let row = 0; row < 3; row++)
        out[i + row] =
          matrix[row]! * values[i]! +
          matrix[4 + row]! * values[i + 1]! +
          matrix[8 + row]! * values[i + 2]! +
          (isPlace ? matrix[12 + row]! : 0);
    return out;
  };
  return {
    ...part,
    places: vectors(part.places, true),
    morphs: part.morphs.map((morph) => ({ ...morph, places: vectors(morph.places, false) })),
    normals: part.normals && directions(part.normals, 3, true),
    tangents: part.tangents && directions(part.tangents, 4, false),
    triangles: volume < 0 ? turnedOver(part.triangles) : part.triangles,
  };
}

const determinant = (m: Matrix): number =>
  m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
  m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) +
  m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!);

function materialOf(material: GltfMaterial, i: number): Material {
  const kept: unknown = material.getExtras().pictures;
  const pictures = isRecord(kept) ? kept : {};
  const role = (
    name: string,
    texture: { getName(): string; getURI(): string } | null,
  ): Record<string, string> => {
    const said = pictures[name];
    if (typeof said === 'string' && said !== '') return { [name]: said };
    return texture ? { [name]: texture.getURI() || texture.getName() || `picture ${i}` } : {};
  };
  return {
    name: material.getName() || `material ${i}`,
    colour: material.getBaseColorFactor() as Quadruple,
    pictures: {
      ...role('colour', material.getBaseColorTexture()),
      ...role('normal', material.getNormalTexture()),
      ...role('grey', material.getMetallicRoughnessTexture()),
      ...role('glow', material.getEmissiveTexture()),
      ...role('mask', null),
    },
    isTwoSided: material.getDoubleSided(),
  };
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null;
