import type { Finding } from '@/core/fit';
import { secondsOf, type Clip, type Form, type Track } from '../form/form';
import { foundInModel } from '../wording';

/** The clips of a slot as they become, by their names; `bones` are the slot's numbers of the given ones. What cannot go in is said. */
export function fitClips(
  slot: Form,
  given: Form,
  bones: readonly (number | undefined)[],
  findings: Finding[],
): (Clip | undefined)[] {
  if (given.clips.length === 0) return slot.clips.map(() => undefined);
  const same: string[] = [];
  const made = slot.clips.map((clip) => {
    const other = given.clips.find(({ name }) => name === clip.name);
    if (!other) return undefined;
    const left = new Set<string>();
    const tracks = other.tracks.flatMap((track): Track[] => {
      const bone = bones[track.bone];
      if (bone !== undefined && trackOf(clip, bone, track)) return [{ ...track, bone }];
      left.add(given.bones[track.bone]?.name ?? `bone ${track.bone}`);
      return [];
    });
    if (left.size > 0)
      findings.push(foundInModel('look', 'tracks-left', { name: clip.name, bones: [...left] }));
    if (tracks.every((track) => isSame(track, trackOf(clip, track.bone, track)!))) {
      same.push(clip.name);
      return undefined;
    }
    const now = { ...clip, tracks };
    findings.push(
      foundInModel('fits', 'clip', { name: clip.name, is: secondsOf(now), was: secondsOf(clip) }),
    );
    return now;
  });
  if (same.length > 0) findings.push(foundInModel('fits', 'clips-unchanged', { names: same }));
  const known = new Set(slot.clips.map(({ name }) => name));
  const left = given.clips.map(({ name }) => name).filter((name) => !known.has(name));
  if (left.length > 0) findings.push(foundInModel('look', 'clips-left', { names: left }));
  return made;
}

const trackOf = ({ tracks }: Clip, bone: number, { sort }: Pick<Track, 'sort'>): Track | undefined =>
  tracks.find((track) => track.bone === bone && track.sort === sort);

const isSame = (a: Track, b: Track): boolean =>
  isSameList(a.times, b.times) && isSameList(a.values, b.values);

const isSameList = (a: Float32Array, b: Float32Array): boolean =>
  a.length === b.length && a.every((value, i) => value === b[i]);
