import { FormatError } from '@/core/bytes';
import type { Bone, Clip, Form, Part } from './form';
import { verticesOf } from './form';

/** Above these a form is refused: they hold memory in bounds, and no game draws more at once. */
export const MOST_VERTICES = 20_000_000;
export const MOST_BONES = 4096;
const FAR = 1e9;

/** Checks what drawing and writing rely on. Throws FormatError naming part, vertex and field. */
export function checkForm(form: Form, file: string): Form {
  if (form.bones.length > MOST_BONES)
    throw new FormatError('budget', {
      ...{ file, fieldPath: 'bones', expected: `at most ${MOST_BONES} bones` },
      actual: `${form.bones.length}`,
    });
  form.bones.forEach((bone, i) => checkBone(bone, i, form.bones, file));
  for (const part of form.parts) checkPart(part, form, file);
  const shapes = form.parts.reduce((most, { morphs }) => Math.max(most, morphs.length), 0);
  for (const clip of form.clips) checkClip(clip, form.bones.length, shapes, file);
  return form;
}

function checkBone(bone: Bone, number: number, bones: readonly Bone[], file: string): void {
  const fieldPath = `bones[${number}]`;
  if (bone.parent < -1 || bone.parent >= bones.length)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: `${fieldPath}.parent`, expected: `a bone below ${bones.length}, or -1` },
      actual: `${bone.parent}`,
    });
  let above = bone.parent;
  for (let steps = 0; above >= 0; steps++) {
    if (above === number || steps > bones.length)
      throw new FormatError('bad-value', {
        ...{
          file,
          fieldPath: `${fieldPath}.parent`,
          expected: 'bones that hang on each other without a ring',
        },
        actual: `${bone.name} hangs on itself`,
      });
    above = bones[above]?.parent ?? -1;
  }
  for (const value of [...bone.place, ...bone.turn, ...bone.size, ...(bone.inverse ?? [])])
    if (!isPlausible(value)) throw senseless(file, fieldPath, value);
}

function checkPart(part: Part, { bones, materials }: Form, file: string): void {
  const fieldPath = `parts[${part.name}]`;
  const vertices = verticesOf(part);
  if (vertices > MOST_VERTICES || part.triangles.length > 3 * MOST_VERTICES)
    throw new FormatError('budget', {
      ...{ file, fieldPath, expected: `at most ${MOST_VERTICES} vertices and triangles` },
      actual: `${vertices} and ${part.triangles.length / 3}`,
    });
  if (part.material >= materials.length)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: `${fieldPath}.material`, expected: `a material below ${materials.length}` },
      actual: `${part.material}`,
    });
  const outside = firstAbove(part.triangles, vertices - 1);
  if (outside >= 0)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: `${fieldPath}.triangles[${Math.floor(outside / 3)}]` },
      ...{ expected: `a vertex below ${vertices}`, actual: `${part.triangles[outside]}` },
    });
  for (const [what, values, each] of numbersOf(part)) {
    if (values.length !== vertices * each)
      throw new FormatError('bad-value', {
        ...{ file, fieldPath: `${fieldPath}.${what}`, expected: `${vertices} of them` },
        actual: `${values.length / each}`,
      });
    const wrong = firstSenseless(values);
    if (wrong >= 0)
      throw senseless(file, `${fieldPath}.${what}[${Math.floor(wrong / each)}]`, values[wrong]!);
  }
  if (part.joints && bones.length > 0) {
    const none = firstMissing(part.joints, part.weights, bones.length);
    if (none >= 0)
      throw new FormatError('bad-value', {
        ...{ file, fieldPath: `${fieldPath}.joints[${none >> 2}]`, expected: `a bone below ${bones.length}` },
        actual: `${part.joints[none]}`,
      });
  }
}

function firstAbove(corners: Uint32Array, most: number): number {
  for (let i = 0; i < corners.length; i++) if (corners[i]! > most) return i;
  return -1;
}

function firstSenseless(values: Float32Array): number {
  for (let i = 0; i < values.length; i++) if (!(values[i]! >= -FAR && values[i]! <= FAR)) return i;
  return -1;
}

function firstMissing(joints: Uint16Array, weights: Float32Array | undefined, bones: number): number {
  if (!weights) return -1;
  for (let i = 0; i < joints.length; i++) if (joints[i]! >= bones && weights[i]! > 0) return i;
  return -1;
}

function numbersOf(part: Part): [string, Float32Array, number][] {
  const all: [string, Float32Array | undefined, number][] = [
    ['places', part.places, 3],
    ['normals', part.normals, 3],
    ['tangents', part.tangents, 4],
    ['colours', part.colours, 4],
    ['weights', part.weights, 4],
    ...part.coordinates.map((set, i): [string, Float32Array, number] => [`coordinates[${i}]`, set, 2]),
    ...part.morphs.map(({ name, places }): [string, Float32Array, number] => [`morphs[${name}]`, places, 3]),
  ];
  return all.flatMap(([what, values, each]) => (values ? [[what, values, each]] : []));
}

function checkClip(clip: Clip, bones: number, shapes: number, file: string): void {
  const { first = 0, count = 0 } = clip.frames ?? {};
  if (first + count > shapes)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: `clips[${clip.name}].frames` },
      ...{ expected: `shapes below ${shapes}`, actual: `${first} to ${first + count - 1}` },
    });
  clip.tracks.forEach(({ bone, times, values, sort }, number) => {
    const fieldPath = `clips[${clip.name}].tracks[${number}]`;
    if (bone < 0 || bone >= bones)
      throw new FormatError('bad-value', {
        ...{ file, fieldPath: `${fieldPath}.bone`, expected: `a bone below ${bones}`, actual: `${bone}` },
      });
    if (values.length !== times.length * (sort === 'turn' ? 4 : 3))
      throw new FormatError('bad-value', {
        ...{ file, fieldPath, expected: `${times.length} keys`, actual: `${values.length} numbers` },
      });
    for (const value of values) if (!isPlausible(value)) throw senseless(file, fieldPath, value);
    for (let i = 0; i < times.length; i++)
      if (!isPlausible(times[i]!) || times[i]! < (i > 0 ? times[i - 1]! : 0))
        throw new FormatError('bad-value', {
          ...{ file, fieldPath: `${fieldPath}.times[${i}]`, expected: 'times that rise' },
          actual: `${times[i]} behind ${i > 0 ? times[i - 1] : 'the beginning'}`,
        });
  });
}

const isPlausible = (value: number): boolean => value >= -FAR && value <= FAR;

const senseless = (file: string, fieldPath: string, value: number): FormatError =>
  new FormatError('bad-value', {
    ...{ file, fieldPath, expected: `a number between -${FAR} and ${FAR}`, actual: `${value}` },
    remedy: 'Where a script describes it, its stream or its form is another one',
  });
