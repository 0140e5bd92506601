import { finestLevel, secondsOf, trianglesOf, verticesOf, type Clip, type Form } from '../form/form';
import type { TakeSettings } from './settings';
import { thinned } from './thin';

export interface TakenClip {
  readonly name: string;
  readonly group: string;
  readonly seconds: number;
  readonly keysBefore: number;
  readonly keys: number;
  /** How far it is off at most: millimetres and degrees. */
  readonly place: number;
  readonly turn: number;
}

/** What is told of what is taken out. */
export interface Taken {
  /** Names of parts; triangles are those of all their levels. */
  readonly names: readonly string[];
  readonly parts: number;
  readonly vertices: number;
  readonly triangles: number;
  readonly materials: readonly string[];
  readonly clips: readonly TakenClip[];
  /** Bones that clips of another file move and this model has not. */
  readonly missing: readonly string[];
}

const MILLIMETRES = 1000;
const DEGREES = 180 / Math.PI;

/**
 * A form as it is to be taken out: without what is left out, with the clips of another file on the bones that are called alike, thinned as
 * wanted. Names stay, so that what comes back fits; numbers of materials follow.
 */
export function takenForm(
  form: Form,
  settings: TakeSettings,
  other?: Form,
): { readonly form: Form; readonly told: Taken } {
  const finest = finestLevel(form.parts);
  const left = new Set(settings.left);
  const leftMaterials = new Set(settings.leftMaterials);
  const parts = form.parts.filter(
    ({ name, level, material }) =>
      !left.has(name) &&
      (!settings.finest || level === finest) &&
      !leftMaterials.has(form.materials[material]?.name ?? '\0'),
  );
  const names = [...new Set(parts.map(({ name }) => name))];
  const used = [...new Set(parts.map(({ material }) => material))]
    .filter((number) => number >= 0)
    .sort((a, b) => a - b);
  const materials = used.map((number) => form.materials[number]!);
  const { clips: own, missing } = other ? onBonesOf(form, other) : { clips: form.clips, missing: [] };
  const wanted = settings.clips === null ? undefined : new Set(settings.clips);
  const chosen = own.filter(({ name }) => !wanted || wanted.has(name));
  const clips = chosen.map((clip) => {
    const before = clip.tracks.reduce((sum, { times }) => sum + times.length, 0);
    if (!settings.thin) return { clip, keysBefore: before, keys: before, place: 0, turn: 0 };
    return thinned(clip, { place: settings.thin.place / MILLIMETRES, turn: settings.thin.turn / DEGREES });
  });
  return {
    form: {
      parts: parts.map((part) => ({
        ...part,
        material: part.material < 0 ? -1 : used.indexOf(part.material),
      })),
      ...{ materials, bones: form.bones, clips: clips.map(({ clip }) => clip) },
    },
    told: {
      ...{ names, parts: names.length },
      vertices: parts.reduce((sum, part) => sum + verticesOf(part), 0),
      triangles: parts.reduce((sum, part) => sum + trianglesOf(part), 0),
      materials: materials.map(({ name }) => name),
      clips: clips.map(({ clip, keysBefore, keys, place, turn }, i) => ({
        ...{ name: clip.name, group: clip.group, seconds: secondsOf(chosen[i]!), keysBefore, keys },
        ...{ place: place * MILLIMETRES, turn: turn * DEGREES },
      })),
      missing,
    },
  };
}

/** The clips of another form on the bones of this one, by their names. */
function onBonesOf({ bones }: Form, other: Form): { clips: readonly Clip[]; missing: readonly string[] } {
  const numbers = new Map(bones.map(({ name }, number) => [name, number]));
  const missing = new Set<string>();
  const clips = other.clips.map((clip) => ({
    ...clip,
    tracks: clip.tracks.flatMap((track) => {
      const { name } = other.bones[track.bone]!;
      const bone = numbers.get(name);
      if (bone !== undefined) return [{ ...track, bone }];
      missing.add(name);
      return [];
    }),
  }));
  return { clips, missing: [...missing] };
}
