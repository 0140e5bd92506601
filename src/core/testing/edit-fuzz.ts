import { NameList, openArchive, type Archive, type OpenOptions } from '../archive';
import { collect, FormatError, memorySource, refOfBytes, type BytesRef } from '../bytes';
import { editEntries, planArchive, proveBuild, WAYS, type FilePlan, type Way } from '../mod';
import type { Script } from '../script';
import { writtenOut } from './round-trip';

/** For tests only: edits by chance, judged by what an archive holds afterwards and not by the code that proves builds. */
export interface Subject {
  readonly name: string;
  readonly script: Script;
  readonly bytes: Uint8Array;
  readonly options: OpenOptions;
  /** Names for what has only hashes. */
  readonly names?: readonly string[];
  /** Entries as an ordinary tool reads them from a file; undefined where it cannot be asked. */
  readonly judge?: (bytes: Uint8Array) => ReadonlyMap<string, Buffer>;
}

export type Chance = () => number;

/** Numbers from 0 to below 1 that follow from a seed (mulberry32, a public domain generator by T. Ettinger). */
export function chanceFrom(seed: number): Chance {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

interface Edit {
  readonly way: Way;
  readonly changed: ReadonlyMap<number, Uint8Array>;
  readonly removed: ReadonlySet<number>;
  readonly added: ReadonlyMap<string, Uint8Array>;
}

const pick = <T>(chance: Chance, list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;

function bytesByChance(chance: Chance, length: number): Uint8Array {
  const noisy = chance() < 0.5;
  const base = Math.floor(chance() * 256);
  return Uint8Array.from({ length }, () => (noisy ? Math.floor(chance() * 256) : base));
}

function newContent(chance: Chance, was: Uint8Array): Uint8Array {
  const shapes = [
    () => new Uint8Array(0),
    () => was.slice(0, Math.floor(was.length * chance())),
    () => was.slice(),
    () => bytesByChance(chance, was.length),
    () => Uint8Array.from([...was, ...bytesByChance(chance, 1 + Math.floor(chance() * 20))]),
    () => bytesByChance(chance, was.length * 3 + Math.floor(chance() * 300)),
  ];
  return pick(chance, shapes)();
}

function editByChance(chance: Chance, archive: Archive, contents: readonly Uint8Array[]): Edit {
  const numbers = archive.entries.map(({ index }) => index);
  const changed = new Map<number, Uint8Array>();
  const removed = new Set<number>();
  const added = new Map<string, Uint8Array>();
  for (let i = Math.floor(chance() * 4); i > 0 && numbers.length > 0; i--)
    changed.set(pick(chance, numbers), new Uint8Array(0));
  for (const index of changed.keys()) changed.set(index, newContent(chance, contents[index]!));
  if (chance() < 0.3 && numbers.length > 0)
    for (let i = chance() < 0.1 ? numbers.length : 1; i > 0; i--) removed.add(pick(chance, numbers));
  for (const index of removed) changed.delete(index);
  if (chance() < 0.3) {
    const like = pick(chance, archive.entries)?.path ?? 'new.txt';
    const dot = like.lastIndexOf('.');
    const path = `${like.slice(0, Math.max(1, dot > 0 ? dot - 1 : like.length))}${Math.floor(chance() * 10)}${dot > 0 ? like.slice(dot) : ''}`;
    added.set(path, newContent(chance, bytesByChance(chance, Math.floor(chance() * 40))));
  }
  return { way: pick(chance, WAYS), changed, removed, added };
}

interface Content {
  readonly path: string;
  readonly bytes: Buffer;
}

const contentsOf = (archive: Archive): Content[] =>
  archive.entries.map((entry) => ({ path: entry.path, bytes: Buffer.from(collect(archive.plain(entry))) }));

/** Names that hang on numbers are not told apart by them. */
const inOrder = (contents: readonly Content[]): string[] =>
  contents.map(({ path, bytes }) => `${path.replace(/\d+/g, '#')} ${bytes.toString('latin1')}`).sort();

function fromFiles(script: Script, name: string, files: readonly FilePlan[], options: OpenOptions): Archive {
  const written = files.map((file) => ({ file: file.file, bytes: writtenOut(file) }));
  return openArchive(script, memorySource(written[0]!.bytes, name), {
    ...options,
    companion(fileName, type, number) {
      const found = written.find(({ file }) => file.type?.name === type && file.number === number);
      return found && memorySource(found.bytes, fileName);
    },
  });
}

/**
 * Edits a subject once and says how it ended: refused in words, or written; throws where something was written and taken for good
 * that is not what was meant.
 */
export function editOnce(subject: Subject, chance: Chance, asksTool: boolean): 'right' | 'refused' {
  const { script } = subject;
  let { options } = subject;
  const open = (): Archive => openArchive(script, memorySource(subject.bytes, 'sample'), options);
  options = { ...options, names: NameList.parse(Buffer.from((subject.names ?? []).join('\n'))) };
  const original = open();
  const before = contentsOf(original);
  const edit = editByChance(
    chance,
    original,
    before.map(({ bytes }) => new Uint8Array(bytes)),
  );
  const names = [...(subject.names ?? []), ...edit.added.keys()].join('\n');
  options = { ...options, names: NameList.parse(Buffer.from(names)) };
  let after: Archive;
  let main: Uint8Array;
  try {
    const edits = edit.removed.size + edit.added.size > 0;
    const made = edits
      ? editEntries(open(), {
          added: [...edit.added.keys()].map((path) => ({ path })),
          removed: edit.removed,
        })
      : undefined;
    const changes = new Map<number, BytesRef>();
    for (const [index, bytes] of edit.changed)
      changes.set(made ? made.newNumbers[index]! : index, refOfBytes(bytes));
    [...edit.added.values()].forEach((bytes, i) => changes.set(made!.added[i]!, refOfBytes(bytes)));
    const plan = planArchive(made?.archive ?? original, changes, {
      way: edit.way,
      ...(made && { edits: made.marks }),
    });
    try {
      main = writtenOut(plan.files[0]!);
      after = fromFiles(script, original.source.name, plan.files, options);
      const proof = proveBuild(original, after, { changes, edited: made }, { copied: plan });
      if (!proof.holds) return 'refused';
      // Said, and allowed: the format has no sizes of its own.
      if (proof.filled.length > 0) return 'refused';
    } finally {
      plan.discard();
    }
  } catch (error) {
    if (error instanceof FormatError) return 'refused';
    throw error;
  }
  const meant: Content[] = before.flatMap(({ path, bytes }, index) =>
    edit.removed.has(index) ? [] : [{ path, bytes: Buffer.from(edit.changed.get(index) ?? bytes) }],
  );
  for (const [path, bytes] of edit.added) meant.push({ path, bytes: Buffer.from(bytes) });
  refuseOther(edit, inOrder(meant), inOrder(contentsOf(after)));
  if (asksTool && subject.judge)
    refuseOther(
      edit,
      inOrder(meant),
      inOrder([...subject.judge(main)].map(([path, bytes]) => ({ path, bytes }))),
    );
  return 'right';
}

function refuseOther(edit: Edit, meant: readonly string[], found: readonly string[]): void {
  const at = Array.from({ length: Math.max(meant.length, found.length) }, (_, i) => i).find(
    (i) => meant[i] !== found[i],
  );
  if (at === undefined) return;
  const told = {
    way: edit.way,
    changed: [...edit.changed].map(([index, bytes]) => `${index}: ${bytes.length} bytes`),
    removed: [...edit.removed],
    added: [...edit.added].map(([path, bytes]) => `${path}: ${bytes.length} bytes`),
    meant: meant[at]?.slice(0, 120),
    found: found[at]?.slice(0, 120),
  };
  throw new Error(`taken for good, but other than meant: ${JSON.stringify(told, undefined, 1)}`);
}
