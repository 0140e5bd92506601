import {
  Document,
  type Accessor,
  type Buffer,
  type Node,
  type Primitive,
  type Skin,
} from '@gltf-transform/core';
import type { Clip, Form, Material, Part } from '../form/form';
import { inverses } from '../form/turns';

/** A picture that goes into a file: PNG or JPEG. */
export interface GivenPicture {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly type: 'image/png' | 'image/jpeg';
  /** Whether texels of it are see-through: not at all, wholly or not at all, or more or less. Not said where it does not matter. */
  readonly alpha?: 'none' | 'cut' | 'soft';
}
/** The picture of a path that a material names, grey maps as glTF packs them; undefined where there is none. */
export type PictureFor = (path: string, role: 'colour' | 'grey') => GivenPicture | undefined;

type Doc = Document;

/** A glTF 2.0 document of a form: a node for each part, bones as nodes with one skin, clips as animations. */
export function documentOf(form: Form, pictureFor: PictureFor = () => undefined): Doc {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Zero Latch';
  const buffer = document.createBuffer();
  const scene = document.createScene();
  document.getRoot().setDefaultScene(scene);
  const bones = form.bones.map((bone) =>
    document
      .createNode(bone.name)
      .setTranslation([...bone.place])
      .setRotation([...bone.turn])
      .setScale([...bone.size]),
  );
  form.bones.forEach(({ parent }, i) => {
    if (parent >= 0) bones[parent]!.addChild(bones[i]!);
    else scene.addChild(bones[i]!);
  });
  const skin = bones.length > 0 ? skinOf(document, buffer, form, bones) : undefined;
  const textures = new Map<string, ReturnType<Doc['createTexture']>>();
  const materials = form.materials.map((material) => materialOf(document, material, pictureFor, textures));
  const changing: (readonly [Node, Part])[] = [];
  for (const part of form.parts) {
    const primitive = primitiveOf(document, buffer, part);
    const material = materials[part.material];
    if (material) primitive.setMaterial(material);
    const mesh = document.createMesh(part.name).addPrimitive(primitive);
    if (part.morphs.length > 0) mesh.setExtras({ targetNames: part.morphs.map(({ name }) => name) });
    const node = document.createNode(part.name).setMesh(mesh);
    // What other programs leave alone tells where it belongs when it comes back.
    if (part.level > 0) node.setExtras({ level: part.level });
    if (skin && part.joints) node.setSkin(skin);
    if (part.morphs.length > 0) changing.push([node, part]);
    scene.addChild(node);
  }
  for (const clip of form.clips) {
    const animation = document.createAnimation(clip.name).setExtras({
      ...(clip.group && { group: clip.group }),
      ...(clip.rate > 0 && { rate: clip.rate }),
      ...(clip.isLoop && { loop: true }),
      ...(clip.frames && { frames: { ...clip.frames } }),
    });
    for (const [node, part] of changing) {
      const sampler = clip.frames && shapeSampler(document, buffer, clip, part);
      if (!sampler) continue;
      const channel = document
        .createAnimationChannel()
        .setTargetNode(node)
        .setTargetPath('weights')
        .setSampler(sampler);
      animation.addSampler(sampler).addChannel(channel);
    }
    for (const { bone, sort, times, values } of clip.tracks) {
      const sampler = document
        .createAnimationSampler()
        .setInput(accessor(document, buffer, 'SCALAR', times))
        .setOutput(accessor(document, buffer, sort === 'turn' ? 'VEC4' : 'VEC3', values))
        .setInterpolation('LINEAR');
      const channel = document
        .createAnimationChannel()
        .setTargetNode(bones[bone]!)
        .setTargetPath(sort === 'turn' ? 'rotation' : sort === 'place' ? 'translation' : 'scale')
        .setSampler(sampler);
      animation.addSampler(sampler).addChannel(channel);
    }
  }
  return document;
}

/** Frames times shapes of one sampler are no more than these: each frame says how much of every shape there is. */
const MOST_WEIGHTS = 1 << 24;

/** One shape after the other, each wholly in its frame. Undefined where a part has them not, or too many of them. */
function shapeSampler(
  document: Doc,
  buffer: Buffer,
  { frames, rate }: Clip,
  { morphs }: Part,
): ReturnType<Doc['createAnimationSampler']> | undefined {
  if (!frames || !(rate > 0) || frames.count === 0 || frames.first + frames.count > morphs.length)
    return undefined;
  if (frames.count * morphs.length > MOST_WEIGHTS) return undefined;
  const times = Float32Array.from({ length: frames.count }, (_, frame) => frame / rate);
  const weights = new Float32Array(frames.count * morphs.length);
  for (let frame = 0; frame < frames.count; frame++)
    weights[frame * morphs.length + frames.first + frame] = 1;
  return document
    .createAnimationSampler()
    .setInput(accessor(document, buffer, 'SCALAR', times))
    .setOutput(accessor(document, buffer, 'SCALAR', weights))
    .setInterpolation('LINEAR');
}

type Numbers = Float32Array | Uint16Array | Uint32Array;

function accessor(
  document: Doc,
  buffer: Buffer,
  type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4',
  values: Numbers,
): Accessor {
  // The package takes arrays that own their memory.
  const own = values as Float32Array<ArrayBuffer>;
  return document.createAccessor().setType(type).setArray(own).setBuffer(buffer);
}

function skinOf(document: Doc, buffer: Buffer, { bones }: Form, nodes: readonly Node[]): Skin {
  const skin = document.createSkin('bones');
  for (const node of nodes) skin.addJoint(node);
  const bound = Float32Array.from(inverses(bones).flat());
  return skin.setInverseBindMatrices(accessor(document, buffer, 'MAT4', bound));
}

function primitiveOf(document: Doc, buffer: Buffer, part: Part): Primitive {
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor(document, buffer, 'VEC3', part.places))
    .setIndices(accessor(document, buffer, 'SCALAR', narrow(part.triangles, part.places.length / 3)));
  const add = (name: string, type: 'VEC2' | 'VEC3' | 'VEC4', values: Numbers | undefined): void => {
    if (values) primitive.setAttribute(name, accessor(document, buffer, type, values));
  };
  add('NORMAL', 'VEC3', part.normals);
  add('TANGENT', 'VEC4', part.tangents);
  part.coordinates.forEach((set, i) => add(`TEXCOORD_${i}`, 'VEC2', set));
  add('COLOR_0', 'VEC4', part.colours);
  if (part.joints && part.weights) {
    add('JOINTS_0', 'VEC4', part.joints);
    add('WEIGHTS_0', 'VEC4', whole(part.weights));
  }
  for (const { name, places } of part.morphs)
    primitive.addTarget(
      document
        .createPrimitiveTarget(name)
        .setAttribute('POSITION', accessor(document, buffer, 'VEC3', places)),
    );
  return primitive;
}

const narrow = (triangles: Uint32Array, vertices: number): Uint16Array | Uint32Array =>
  vertices <= 0xffff ? new Uint16Array(triangles) : triangles;

/** Weights that are 1 together, as glTF asks; those of a vertex that nothing moves are its first bone's. */
function whole(weights: Float32Array): Float32Array {
  let out: Float32Array | undefined;
  for (let i = 0; i < weights.length; i += 4) {
    const sum = weights[i]! + weights[i + 1]! + weights[i + 2]! + weights[i + 3]!;
    if (sum > 1 - 1e-6 && sum < 1 + 1e-6) continue;
    out ??= weights.slice();
    if (!(sum > 0)) out[i] = 1;
    else for (let j = 0; j < 4; j++) out[i + j]! /= sum;
  }
  return out ?? weights;
}

function materialOf(
  document: Doc,
  material: Material,
  pictureFor: PictureFor,
  textures: Map<string, ReturnType<Doc['createTexture']>>,
): ReturnType<Doc['createMaterial']> {
  const made = document
    .createMaterial(material.name)
    .setBaseColorFactor([...material.colour])
    .setMetallicFactor(0)
    .setRoughnessFactor(1)
    .setDoubleSided(material.isTwoSided)
    .setExtras({ pictures: { ...material.pictures } });
  const texture = (
    path: string | undefined,
    role: 'colour' | 'grey' = 'colour',
  ): ReturnType<Doc['createTexture']> | null => {
    const picture = path === undefined ? undefined : pictureFor(path, role);
    if (!picture || path === undefined) return null;
    const key = `${role} ${path}`;
    let known = textures.get(key);
    if (!known) {
      known = document.createTexture(path).setImage(picture.bytes).setMimeType(picture.type);
      textures.set(key, known);
    }
    return known;
  };
  const { colour, normal, glow, grey } = material.pictures;
  made.setBaseColorTexture(texture(colour)).setNormalTexture(texture(normal));
  const alpha = colour === undefined ? undefined : pictureFor(colour, 'colour')?.alpha;
  if (alpha === 'soft' || material.colour[3] < 1) made.setAlphaMode('BLEND');
  else if (alpha === 'cut') made.setAlphaMode('MASK').setAlphaCutoff(0.5);
  // Of grey maps it is only known what they are where somebody said so.
  const greys = grey === undefined ? null : texture(grey, 'grey');
  if (greys) made.setMetallicRoughnessTexture(greys).setMetallicFactor(1).setOcclusionTexture(greys);
  const shining = texture(glow);
  if (shining) made.setEmissiveTexture(shining).setEmissiveFactor([1, 1, 1]);
  return made;
}
