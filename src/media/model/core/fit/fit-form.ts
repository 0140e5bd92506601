import { FormatError } from '@/core/bytes';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { boxOf, trianglesOf, verticesOf, type Box, type Form, type Part } from '../form/form';
import { hereFrom } from '../form/axes';
import { coarser, lackingLevels } from './coarser';
import { fitClips } from './fit-clips';
import { matchBones, matchParts } from '../wrapped/match';
import { isSamePart, type PartRoom, type WrappedModel } from '../wrapped/wrapped-model';
import { foundInModel } from '../wording';

/** Reads what was written, for what became of it. */
export type ReadAgain = (bytes: Uint8Array) => Form;

/** Models that are so many times larger or smaller than their slot are of another unit. */
const UNITS = [0.001, 0.01, 0.0254, 0.3048, 1 / 0.3048, 1 / 0.0254, 100, 1000];

/** Makes a form ready for a slot that a script describes: its parts and clips come in place of those that are called so. */
export async function fitForm(
  slot: WrappedModel,
  given: Form,
  name: string,
  mends: ReadonlySet<Mend>,
  readAgain: ReadAgain,
): Promise<Prepared> {
  const findings: Finding[] = [];
  const drawn = { ...given, parts: given.parts.filter(({ triangles }) => triangles.length > 0) };
  if (drawn.parts.length === 0 && slot.form.parts.length > 0)
    return { bytes: undefined, findings: [foundInModel('does not fit', 'no-parts', { name })] };
  const stood = standUp(slot.form, drawn, mends, findings);
  const form = sized(slot.form, stood, mends, findings);

  const { matched, left } = matchParts(slot.form.parts, form.parts);
  const bones = matchBones(slot.form, form);
  const hasBones = slot.form.bones.length > 0;
  /** Undefined for what is as it was. */
  const readyFor = async (part: Part, i: number, said: Finding[]): Promise<Part | undefined> => {
    const own = slot.form.parts[i]!;
    const bound = boundTo(part, bones, form, slot.rooms[i]!, hasBones, said);
    return isSamePart(bound, own) ? undefined : made(bound, own, slot.rooms[i]!, said);
  };
  const ready: (Part | undefined)[] = [];
  for (const [i, part] of matched.entries()) ready.push(part && (await readyFor(part, i, findings)));
  const lacking = lackingLevels(
    slot.form,
    (at) => matched[at] !== undefined,
    (at) => ready[at] !== undefined,
  );
  say(slot.form, matched, ready, left, new Set(lacking.map(({ at }) => at)), findings);
  if (!mends.has('make levels')) {
    const names = lacking.map(({ at }) => calledIn(slot.form, at));
    if (names.length > 0)
      findings.push(foundInModel('look', 'old-levels', { names }, { mend: 'make levels' }));
  } else
    for (const { at, from, share } of lacking) {
      const { part, error } = await coarser(matched[from]!, share);
      const { name, level } = slot.form.parts[at]!;
      const said: Finding[] = [];
      ready[at] = await readyFor({ ...part, name, level }, at, said);
      // Most of what is to be said of it was said of the finest level.
      const before = new Set(findings.map((finding) => JSON.stringify(finding)));
      findings.push(...said.filter((finding) => !before.has(JSON.stringify(finding))));
      findings.push(
        foundInModel('fits', 'made-level', {
          name: calledIn(slot.form, at),
          triangles: trianglesOf(part),
          error,
        }),
      );
    }
  ready.forEach((part, i) => part && sayShapes(part, slot.form.parts[i]!, findings));
  const clips = fitClips(slot.form, form, bones, findings);
  if (findings.some(({ state }) => state === 'does not fit')) return { bytes: undefined, findings };
  try {
    const bytes = slot.rewrap(ready, clips);
    const error = farthest(ready, readAgain(bytes).parts);
    if (error !== undefined)
      findings.push(foundInModel('fits', 'read', { error, step: error < 1e-7 ? 0 : error }));
    return { bytes, findings };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    findings.push(foundInModel('does not fit', 'refused', { why: error.message }));
    return { bytes: undefined, findings };
  }
}

const facts = (part: Part): { vertices: number; triangles: number } => ({
  vertices: verticesOf(part),
  triangles: trianglesOf(part),
});

function calledIn({ parts }: Form, at: number): string {
  const { name, level } = parts[at]!;
  return level > 0 ? `${name}, level ${level}` : name;
}

function say(
  slot: Form,
  matched: readonly (Part | undefined)[],
  ready: readonly (Part | undefined)[],
  left: readonly Part[],
  toldOf: ReadonlySet<number>,
  findings: Finding[],
): void {
  const named = (is: (i: number) => boolean): string[] =>
    slot.parts.flatMap((_, i) => (is(i) ? [calledIn(slot, i)] : []));
  ready.forEach((part, i) => {
    const was = slot.parts[i]!;
    if (part)
      findings.push(foundInModel('fits', 'part', { name: was.name, is: facts(part), was: facts(was) }));
  });
  const unchanged = named((i) => matched[i] !== undefined && ready[i] === undefined);
  if (unchanged.length > 0) findings.push(foundInModel('fits', 'unchanged', { names: unchanged }));
  const kept = named((i) => matched[i] === undefined && !toldOf.has(i));
  if (kept.length > 0) findings.push(foundInModel('look', 'kept', { names: kept }));
  if (left.length > 0)
    findings.push(
      foundInModel('does not fit', 'left', { names: left.map(({ name }) => name || 'one without a name') }),
    );
}

/** What becomes of a part's other shapes: those that are called so come along, others stand still or stay out. */
function sayShapes(part: Part, own: Part, findings: Finding[]): void {
  const isAsMany = verticesOf(part) === verticesOf(own);
  const given = new Set(part.morphs.map(({ name }) => name));
  const known = new Set(own.morphs.map(({ name }) => name));
  const lacking = own.morphs.map(({ name }) => name).filter((name) => !given.has(name));
  const left = [...given].filter((name) => !known.has(name));
  if (lacking.length > 0)
    findings.push(
      isAsMany
        ? foundInModel('look', 'shapes-kept', { name: own.name, shapes: lacking })
        : foundInModel('look', 'shapes-still', { name: own.name, shapes: lacking }),
    );
  if (left.length > 0) findings.push(foundInModel('look', 'shapes-left', { name: own.name, shapes: left }));
}

/** A part whose joints are bones of the slot. */
function boundTo(
  part: Part,
  bones: readonly (number | undefined)[],
  given: Form,
  room: PartRoom,
  hasBones: boolean,
  findings: Finding[],
): Part {
  if (room.bones === 0 || !hasBones) return { ...part, joints: undefined, weights: undefined };
  if (!part.joints || !part.weights) {
    findings.push(foundInModel('look', 'no-weights', { name: part.name }));
    const count = verticesOf(part);
    const weights = new Float32Array(4 * count).map((_, i) => (i % 4 === 0 ? 1 : 0));
    return { ...part, joints: new Uint16Array(4 * count), weights };
  }
  const unknown = new Set<string>();
  const joints = part.joints.map((bone, i) => {
    const own = bones[bone];
    const weighs = part.weights![i]! > 0;
    const isListed = own === undefined || !room.list || room.list.includes(own);
    if (weighs && (own === undefined || !isListed)) unknown.add(given.bones[bone]?.name ?? `bone ${bone}`);
    return own ?? 0;
  });
  if (unknown.size > 0)
    findings.push(foundInModel('does not fit', 'unknown-bones', { name: part.name, bones: [...unknown] }));
  return fewer({ ...part, joints }, room.bones, findings);
}

/** The heaviest bones of each vertex, as many as the slot keeps. */
function fewer(part: Part, most: number, findings: Finding[]): Part {
  const { joints, weights } = part;
  if (!joints || !weights || most >= 4) return part;
  const outJoints = joints.slice();
  const outWeights = weights.slice();
  let used = 0;
  for (let at = 0; at < weights.length; at += 4) {
    const order = [0, 1, 2, 3].sort((a, b) => weights[at + b]! - weights[at + a]!);
    used = Math.max(used, order.filter((i) => weights[at + i]! > 0).length);
    const sum = order.slice(0, most).reduce((all, i) => all + weights[at + i]!, 0);
    order.forEach((i, to) => {
      outJoints[at + to] = to < most ? joints[at + i]! : 0;
      outWeights[at + to] = to < most && sum > 0 ? weights[at + i]! / sum : 0;
    });
  }
  if (used <= most) return part;
  findings.push(foundInModel('look', 'fewer-bones', { name: part.name, is: used, most }));
  return { ...part, joints: outJoints, weights: outWeights };
}

const NOTHING_MADE = { withNormals: (part: Part) => part, withTangents: (part: Part) => part };

/** What the streams keep and is not given is made where it can be. */
async function made(part: Part, own: Part, room: PartRoom, findings: Finding[]): Promise<Part> {
  let out = part;
  const needs = (word: string, has: unknown): boolean => room.fields.has(word) && !has;
  const isMissing = needs('normal', part.normals) || needs('tangent', part.tangents);
  const { withNormals, withTangents } = isMissing ? await import('../open/with-three') : NOTHING_MADE;
  const isAsMany = verticesOf(part) === verticesOf(own);
  if (room.fields.has('coordinates') && part.coordinates.length === 0 && !isAsMany)
    findings.push(foundInModel('look', 'no-coordinates', { name: own.name }));
  if (needs('normal', part.normals)) {
    out = withNormals(out);
    findings.push(foundInModel('look', 'made-normals', { name: own.name }));
  }
  if (needs('tangent', part.tangents)) {
    out = withTangents(out);
    if (out.tangents) findings.push(foundInModel('look', 'made-tangents', { name: own.name }));
  }
  return out;
}

const sidesOf = ({ low, high }: Box): [number, number, number] => [
  high[0] - low[0],
  high[1] - low[1],
  high[2] - low[2],
];
const diagonal = (box: Box): number => Math.hypot(...sidesOf(box));

/** A form that is many times as large as the slot was saved in another unit. */
function sized(slot: Form, given: Form, mends: ReadonlySet<Mend>, findings: Finding[]): Form {
  const [was, is] = [boxOf(slot.parts), boxOf(given.parts)];
  if (!was || !is || diagonal(was) === 0 || diagonal(is) === 0) return given;
  const factor = diagonal(is) / diagonal(was);
  const unit = UNITS.find((one) => factor / one > 0.8 && factor / one < 1.25);
  if (unit === undefined) return given;
  if (!mends.has('rescale')) {
    findings.push(foundInModel('look', 'scale', { factor: unit }, { mend: 'rescale' }));
    return given;
  }
  findings.push(foundInModel('look', 'rescaled', { factor: 1 / unit }));
  return hereFrom(given, { up: 'y', isLeftHanded: false, unit: 1 / unit });
}

/** A form whose box is that of the slot with two sides changed lies on its side. */
function standUp(slot: Form, given: Form, mends: ReadonlySet<Mend>, findings: Finding[]): Form {
  const [was, is] = [boxOf(slot.parts), boxOf(given.parts)];
  if (!was || !is) return given;
  const [a, b] = [sidesOf(was), sidesOf(is)];
  const share = (sides: readonly number[]): number[] => sides.map((one) => one / (Math.hypot(...sides) || 1));
  const off = (x: readonly number[], y: readonly number[]): number =>
    Math.max(...share(x).map((one, i) => Math.abs(one - share(y)[i]!)));
  const isAsIs = off(a, b) < 0.08;
  const isTurned = off(a, [b[0], b[2], b[1]]) < 0.03;
  if (isAsIs || !isTurned) return given;
  if (!mends.has('stand up')) {
    findings.push(foundInModel('look', 'lying', { up: 'z' }, { mend: 'stand up' }));
    return given;
  }
  findings.push(foundInModel('look', 'stood-up', {}));
  return hereFrom(given, { up: 'z', isLeftHanded: false, unit: 1 });
}

/** How far a place came to lie from where it was given, at most; undefined where no part changed. */
function farthest(given: readonly (Part | undefined)[], made: readonly Part[]): number | undefined {
  let most: number | undefined;
  given.forEach((part, i) => {
    const now = made[i];
    if (!part || now?.places.length !== part.places.length) return;
    let worst = most ?? 0;
    for (let j = 0; j < part.places.length; j++)
      worst = Math.max(worst, Math.abs(part.places[j]! - now.places[j]!));
    most = worst;
  });
  return most;
}
