import type { Archive, Entry, Names, OpenOptions } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import type { Script } from '@/core/script';
import { nodePrimitives } from '@/platform/node/primitives';
import { keysWith } from '../opening/open-file';

/** A key that an archive may be tried with. */
export interface TaskKey {
  readonly id: number;
  readonly label: string;
  readonly bytes: Uint8Array;
  /** Archives it is for, a part of their path; empty for all. */
  readonly tiedTo: string;
}

/** How far a key got that did not open the archive. */
export interface KeyTry {
  readonly keyId: number;
  readonly field: string;
  readonly byteOffset: number;
}

/** Something that opens as an archive under some keys. */
interface Openable {
  readonly path: string;
  open(options: OpenOptions): Archive;
}

/** How far an archive opens. */
export interface Tried {
  readonly archive?: Archive;
  readonly state: 'open' | 'locked' | 'broken';
  readonly reason: string;
  readonly nextStep: string;
  readonly key?: TaskKey;
  /** Whether it is open only as far as no key is needed. */
  readonly wantsKey?: boolean;
  readonly tries: readonly KeyTry[];
}

/** Tries to open without a key, then with each key, and says how far it got. */
export function unlock(place: Openable, script: Script, keys: readonly TaskKey[], names: Names): Tried {
  const attempt = (bytes: Uint8Array | undefined): Archive | FormatError => {
    try {
      return place.open({ primitives: nodePrimitives, keys: keysWith(script, bytes), names });
    } catch (error) {
      if (error instanceof FormatError) return error;
      throw error;
    }
  };
  const bare = attempt(undefined);
  const tries: KeyTry[] = [];
  const lengths = [...script.keys.values()].map(({ length }) => length);
  const fitting = keys.filter(
    ({ tiedTo, bytes }) =>
      (tiedTo === '' || place.path.includes(tiedTo)) &&
      lengths.some((length) => length === undefined || length === bytes.length),
  );
  if (!(bare instanceof FormatError)) {
    const samples = keyedSamples(bare);
    if (samples.length === 0)
      return { archive: bare, state: 'open', reason: 'no key needed', nextStep: '', tries };
    return unlockEntries(bare, samples, fitting, attempt);
  }
  if (bare.code !== 'key-missing') return broken(bare);
  let last = bare;
  for (const key of fitting) {
    const opened = attempt(key.bytes);
    if (!(opened instanceof FormatError))
      return { archive: opened, state: 'open', reason: `${key.label} opens it`, nextStep: '', key, tries };
    if (!['key-wrong', 'bad-value', 'script-wrong'].includes(opened.code)) return broken(opened);
    last = opened;
    const { fieldPath, byteOffset } = opened.facts;
    tries.push({ keyId: key.id, field: fieldPath ?? 'the index', byteOffset: byteOffset ?? 0 });
  }
  const { byteOffset } = last.facts;
  const tried = fitting.length;
  return {
    state: 'locked',
    tries,
    reason:
      tried === 0
        ? `the head is readable, so the script is right; a key is needed from byte ${byteOffset ?? 0} on`
        : `${tried} ${tried === 1 ? 'key was tried, and does not fit' : 'keys were tried, and none fits'}: what it opens at byte ${byteOffset ?? 0} does not check`,
    nextStep:
      tried === 0
        ? 'Add its key, or find it in the program of the game.'
        : 'Add another key, or find it in the program of the game.',
  };
}

/** So many entries of an archive whose index needs no key are asked whether they do. */
const MOST_ASKED = 256;
/** With so many of them keys are tried. */
const SAMPLES = 3;

/** Numbers of entries that need a key, the shortest first. */
function keyedSamples(archive: Archive): number[] {
  if (archive.script.keys.size === 0) return [];
  const { entries } = archive;
  const step = Math.max(1, Math.floor(entries.length / MOST_ASKED));
  const keyed: Entry[] = [];
  for (let i = 0; i < entries.length; i += step) {
    const entry = entries[i]!;
    if (entry.problem || entry.storedSize === 0) continue;
    try {
      archive.steps(entry);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      if (error.code === 'key-missing') keyed.push(entry);
    }
  }
  return keyed
    .sort((a, b) => a.storedSize - b.storedSize)
    .slice(0, SAMPLES)
    .map(({ index }) => index);
}

/** What is wrong with entries under a key; of long ones only the beginning is looked at. */
function problemIn(archive: Archive, samples: readonly number[]): FormatError | undefined {
  try {
    for (const index of samples) {
      let bytes = 0;
      for (const chunk of archive.plain(archive.entries[index]!).chunks())
        if ((bytes += chunk.length) > 8 << 20) break;
    }
    return undefined;
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
}

/** Looks for the key of entries in an archive whose index is open; without one it can be browsed all the same. */
function unlockEntries(
  bare: Archive,
  samples: readonly number[],
  keys: readonly TaskKey[],
  attempt: (bytes: Uint8Array) => Archive | FormatError,
): Tried {
  const tries: KeyTry[] = [];
  for (const key of keys) {
    const opened = attempt(key.bytes);
    const problem = opened instanceof FormatError ? opened : problemIn(opened, samples);
    if (problem === undefined) {
      bare.discard();
      const reason = `the index is open, ${key.label} opens its entries`;
      return { archive: opened as Archive, state: 'open', reason, nextStep: '', key, tries };
    }
    if (!(opened instanceof FormatError)) opened.discard();
    const { fieldPath, byteOffset } = problem.facts;
    tries.push({ keyId: key.id, field: fieldPath ?? 'an entry', byteOffset: byteOffset ?? 0 });
  }
  const tried = keys.length === 0 ? '' : `; ${keys.length} tried, none opens them`;
  const told = {
    reason: `the index is open, its entries need a key${tried}`,
    nextStep: 'Add its key, or find it in the program of the game.',
    tries,
  };
  if (hasSizes(bare, samples)) return { ...told, archive: bare, state: 'open', wantsKey: true };
  bare.discard();
  return { ...told, state: 'locked' };
}

/** Whether the index says how long entries are; otherwise nothing can be listed before they are opened. */
function hasSizes(archive: Archive, samples: readonly number[]): boolean {
  try {
    return samples.every((index) => archive.entries[index]!.size >= 0);
  } catch (error) {
    if (error instanceof FormatError && error.code === 'key-missing') return false;
    throw error;
  }
}

const broken = (error: FormatError): Tried => ({
  state: 'broken',
  reason: error.message,
  nextStep:
    error.code === 'part-missing'
      ? 'Put the missing file beside it and scan the folder again.'
      : 'Get this file anew from the game, or try another script. The other archives are not harmed.',
  tries: [],
});
