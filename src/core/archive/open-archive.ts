import { concatRefs, FormatError, refOfSpan, withFacts, type BytesRef, type ByteSource } from '../bytes';
import { hashes, type HashState } from '../hashes';
import type { Primitives } from '../primitives';
import {
  ArchiveFiles,
  type ArchiveFile,
  canonical,
  Budget,
  fieldIndex,
  describeValue,
  flattened,
  deepPaths,
  PartVerifier,
  ReadEvaluation,
  RecordReader,
  resolveSeal,
  RowTable,
  unseal,
  verifyField,
  type FindCompanion,
  type Keys,
  type PlainRef,
  type RecordNode,
  type ResolvedStep,
  type FieldType,
  type Recognition,
  type IsTried,
  type Script,
  type Value,
} from '../script';
import type { Archive, Entry, OutsideWork, Stretch } from './archive';
import { coverageOf, payloadStretches } from './coverage';
import { DeepFieldTable } from './deep-fields';
import type { EntryFacts } from './group-entries';
import type { Names } from './name-list';
import { EntryReader } from './read-entries';

export interface OpenOptions {
  readonly primitives: Primitives;
  readonly keys?: Keys;
  /** Values of the script's parameters, where not their defaults. */
  readonly parameters?: ReadonlyMap<string, Value>;
  /** Paths known from elsewhere, for archives that keep hashes only. */
  readonly names?: Names;
  readonly budget?: Budget;
  /** Finds the files beside this one that its script names; without it there are none. */
  readonly companion?: FindCompanion;
  /** Called before anything is read, with what will hold all that is, even when reading fails half-way. */
  readonly onReading?: (context: ReadEvaluation) => void;
}

/** Whether a file's bytes bear one of the sets of marks of a script; without any, its name must end right. */
export function recognises(script: Pick<Recognition, 'marks' | 'endings'>, source: ByteSource): boolean {
  if (script.marks.length === 0)
    return script.endings.some((ending) => source.name.toLowerCase().endsWith(ending.toLowerCase()));
  return script.marks.some((set) =>
    set.every(({ at: given, bytes }) => {
      const at = given < 0 ? source.length + given : given;
      return (
        at >= 0 &&
        at + bytes.length <= source.length &&
        source.read(at, bytes.length).every((byte, i) => byte === bytes[i])
      );
    }),
  );
}

/**
 * Reads and verifies all tables of an archive by its script. Throws FormatError with field path and byte
 * offset where the tables are wrong; what is wrong with one entry only is kept with that entry.
 */
export function openArchive(script: Script, source: ByteSource, options: OpenOptions): Archive {
  return withFacts({ file: source.name }, () => {
    if (script.marks.length > 0 && !recognises(script, source))
      throw new FormatError('not-recognised', {
        byteOffset: Math.max(0, script.marks[0]?.[0]?.at ?? 0),
        expected: `the mark of '${script.title}'`,
        actual:
          source.length === 0
            ? 'an empty file'
            : describeValue(source.read(0, Math.min(16, source.length)).slice()),
        remedy: 'Choose another format script',
      });
    return new OpenedArchive(script, source, options);
  });
}

/**
 * Reads the entries of an archive anew, after records of it have been changed in memory; `originOf` says from which entry each row
 * comes. What follows from other things is not verified then, since it has not been worked out yet.
 */
export function rereadEntries(archive: Archive, originOf: (row: RecordNode) => Entry): void {
  if (!(archive instanceof OpenedArchive)) throw new TypeError('this archive was not opened from a file');
  archive.reread(originOf);
}

/** Checks over larger files inside fields wait for a proof. */
const MOST_TRIED_BYTES = 64 << 20;

class OpenedArchive implements Archive {
  readonly context: ReadEvaluation;
  private listed!: EntryReader;
  private known: readonly Entry[] | undefined;
  readonly fieldsHeld: number;
  private readonly held: ArchiveFiles;
  private covered: Archive['coverage'] | undefined;
  /** By entry: 1 where all of it has been gone through and held. */
  private lookedThrough: Uint8Array | undefined;
  private lastKnown: { entry: number; known: ReadonlyMap<string, Value> } | undefined;
  private readonly deep = new DeepFieldTable();

  constructor(
    readonly script: Script,
    readonly source: ByteSource,
    private readonly options: OpenOptions,
  ) {
    const budget = options.budget ?? new Budget();
    budget.allowHashing(source.length);
    const keys = options.keys ?? new Map<string, Uint8Array>();
    this.context = new ReadEvaluation(
      source,
      options.primitives,
      script,
      keys,
      options.parameters ?? new Map(),
      budget,
    );
    this.held = new ArchiveFiles(source, script, this.context, budget, options.companion);
    this.context.files = this.held;
    this.context.isExplained = options.onReading !== undefined;
    options.onReading?.(this.context);
    const reader = new RecordReader(script, this.context, budget);
    for (const part of script.parts) this.context.parts.set(part.name, reader.readPart(part));
    this.readEntries();
    this.context.isRead = true;
    const verifier = new PartVerifier(this.context, this.columns(), this.isTried);
    let held = 0;
    for (const part of this.context.parts.values()) held += verifier.verify(part);
    this.fieldsHeld = held;
  }

  private readEntries(originOf?: (row: RecordNode) => Entry): void {
    const read = new EntryReader(this.context, this.options, (entry) =>
      // One whose bytes cannot be had does not keep the others from being read.
      entry.problem ? entry.storedSize : this.plain(entry).length,
    );
    for (const group of this.script.entries)
      if (originOf) read.readChanged(group, originOf);
      else read.readGroup(group);
    this.listed = read;
    this.context.payloads = {
      count: read.count,
      place: (index) => read.entry(index).offset,
      file: (index) => read.entry(index).file,
      storedLength: (index) => read.entry(index).storedSize,
      plainLength: (index) => read.entry(index).size,
      stored: (index) => this.stored(read.entry(index)),
      plain: (index) => this.plain(read.entry(index)),
      blockSizes: (index) => this.blockSizes(read.entry(index)),
    };
  }

  reread(originOf: (row: RecordNode) => Entry): void {
    this.context.forget();
    this.known = undefined;
    this.covered = undefined;
    this.lookedThrough = undefined;
    this.lastKnown = undefined;
    this.readEntries(originOf);
  }

  get entries(): readonly Entry[] {
    return (this.known ??= this.listed.all());
  }

  /** Worked out when it is asked for; those who only list entries do without. */
  get coverage(): Archive['coverage'] {
    return (this.covered ??= coverageOf(
      this.stretches(),
      this.files.map(({ space }) => space.source.length),
    ));
  }

  get leftToProof(): readonly string[] {
    return [...this.context.parts].flatMap(([name, part]) => deepPaths(name, part, this.isTried));
  }

  /** What is stated over files inside fields is tried at once, since these have been unpacked anyhow. */
  private readonly isTried: IsTried = ({ role }) => {
    if (role.sort !== 'derived') return false;
    const wanted = [...role.from.bytesOf].filter((name) => name === 'payload' || name.startsWith('file '));
    const bytes = wanted.reduce((sum, name) => sum + this.bytesInside(name), 0);
    return bytes <= MOST_TRIED_BYTES;
  };

  /** Bytes of the files inside fields that `file NAME` stands for; more than any for all else. */
  private bytesInside(name: string): number {
    const own = this.held.all.filter(({ type }) => `file ${type?.name}` === name);
    return own.length > 0 && own.every(({ holders }) => holders)
      ? own.reduce((sum, { space }) => sum + space.source.length, 0)
      : Infinity;
  }

  get files(): Archive['files'] {
    return this.held.all;
  }

  nameBeside(file: ArchiveFile, mainName: string): string {
    return this.held.nameBeside(file, mainName);
  }

  discard(): void {
    this.held.discard();
  }

  /** Columns for the verifier, where every entry states its size. */
  private columns(): ConstructorParameters<typeof PartVerifier>[1] {
    if (this.script.entries.some((group) => !group.size)) return undefined;
    const { groups, count } = this.listed;
    const joined = (of: (facts: EntryFacts) => Float64Array): Float64Array => {
      if (groups.length === 1) return of(groups[0]!);
      const all = new Float64Array(count);
      for (const facts of groups) all.set(of(facts), facts.base);
      return all;
    };
    return {
      place: joined(({ offsets }) => offsets),
      stored: joined(({ stored }) => stored),
      plain: joined(({ sizes }) => sizes!),
    };
  }

  private blockSizes(entry: Entry): readonly number[] | undefined {
    const blocks = this.steps(entry).find((step) => step.sort === 'blocks');
    return blocks?.sizes;
  }

  private stretches(): Stretch[] {
    const found: Stretch[] = [];
    for (const [name, part] of this.context.parts) {
      if (part instanceof RowTable) {
        const { offset, byteLength, space } = part.parts;
        found.push({ offset, length: byteLength, what: name, file: space.file });
        continue;
      }
      const nodes = flattened(part, this.context);
      for (let i = 0; i < nodes.length; i++) {
        const record = nodes.at(i) as RecordNode;
        found.push({
          offset: record.offset,
          length: record.length,
          what: record.path || name,
          file: record.space.file,
        });
      }
    }
    const lengths = this.files.map(({ space }) => space.source.length);
    for (const facts of this.listed.groups)
      if (!facts.holders && !facts.pieces)
        found.push(...payloadStretches(facts, lengths, (index) => this.listed.entry(index).path));
    return found;
  }

  steps(entry: Entry): ResolvedStep[] {
    return withFacts(this.factsOf(entry), () => resolveSeal(entry.group.seal, this.context, entry.row));
  }

  private factsOf(entry: Entry): { file: string; fieldPath: string; byteOffset: number } {
    return {
      file: this.files[entry.file]!.space.source.name,
      fieldPath: entry.path,
      byteOffset: entry.offset,
    };
  }

  stored(entry: Entry): BytesRef {
    this.refuseBroken(entry);
    const { holder, pieces, group } = entry;
    if (pieces && group.payload.sort === 'pieces') {
      const { field } = group.payload;
      return concatRefs(pieces.map((piece) => fieldSpan(piece, field)));
    }
    if (holder && group.payload.sort === 'field') return fieldSpan(holder, group.payload.field);
    return refOfSpan(this.files[entry.file]!.space.source, entry.offset, entry.storedSize);
  }

  private refuseBroken(entry: Entry): void {
    if (entry.problem) throw entry.problem;
  }

  /** Throws FormatError where something does not hold over the plain bytes of an entry; else notes that it was gone through. */
  private verifyPlain(
    entry: Entry,
    known: ReadonlyMap<string, Value>,
    { length, expected }: { readonly length: number; readonly expected: number },
    chunks: () => Iterable<Uint8Array>,
  ): void {
    if (length !== expected)
      throw new FormatError('derived-mismatch', {
        ...this.factsOf(entry),
        expected: `${expected} bytes`,
        actual: `${length}`,
      });
    const { ofRow, ofHolder, isEmpty } = this.deep.of(entry);
    if (!isEmpty) {
      const seen = Object.create(this.context) as ReadEvaluation;
      seen.plain = (thing) =>
        thing.sort === 'payload' && thing.index === entry.index
          ? { length, known, chunks }
          : this.context.plain(thing);
      const verify = (node: RecordNode, field: FieldType): void => {
        try {
          verifyField(node, field, seen);
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          const why = `the bytes of ${entry.path} are damaged, or the key or script is wrong`;
          throw new FormatError(error.code, { ...error.facts, why });
        }
      };
      for (const field of ofRow) verify(entry.row, field);
      for (const field of ofHolder) verify(entry.holder!, field);
    }
    this.lookedThrough ??= new Uint8Array(this.listed.count);
    this.lookedThrough[entry.index] = 1;
    this.lastKnown = { entry: entry.index, known };
  }

  plain(entry: Entry): PlainRef {
    const stored = this.stored(entry);
    const steps = this.steps(entry);
    const { isEmpty, hashes: taken } = this.deep.of(entry);
    if (steps.length === 0 && isEmpty) return stored;
    const ref =
      steps.length === 0
        ? stored
        : withFacts(this.factsOf(entry), () => unseal(steps, stored, this.context.primitives));
    const expected = entry.group.size ? entry.size : ref.length;
    const result: PlainRef = {
      length: expected,
      learn: (hash) => (taken.has(hash) ? this.learnt(entry.index, result).get(hash) : undefined),
      chunks: () => this.checked(entry, ref, expected),
    };
    return result;
  }

  /** The bytes as they are gone through, and what has to hold over them once they are. */
  private *checked(entry: Entry, ref: BytesRef, expected: number): Iterable<Uint8Array> {
    const states = new Map<string, HashState>();
    for (const name of this.deep.of(entry).hashes)
      states.set(name, hashes.get(name)!.start(this.context.primitives));
    let length = 0;
    try {
      for (const chunk of ref.chunks()) {
        for (const state of states.values()) state.update(chunk);
        length += chunk.length;
        yield chunk;
      }
      const known = new Map<string, Value>();
      for (const [name, state] of states) known.set(name, canonicalHash(state.value()));
      this.verifyPlain(entry, known, { length, expected }, () => ref.chunks());
    } catch (error) {
      throw error instanceof FormatError ? error.with(this.factsOf(entry)) : error;
    }
  }

  outside(entry: Entry): OutsideWork | undefined {
    const steps = this.steps(entry);
    const [step] = steps;
    const isStated = entry.group.size !== undefined;
    if (steps.length > 1 || (step && (step.sort !== 'codec' || !isStated))) return undefined;
    const { span, length } = this.stored(entry);
    if (!span) return undefined;
    const facts = this.factsOf(entry);
    const expected = isStated ? entry.size : length;
    return {
      codec: step?.codec.name,
      stored: { ...span, length },
      length: expected,
      hashes: [...this.deep.of(entry).hashes],
      settle: (known, plainLength) =>
        withFacts(facts, () =>
          this.verifyPlain(entry, known, { length: plainLength, expected }, () => this.plain(entry).chunks()),
        ),
      failed: (why) =>
        new FormatError('codec-failed', {
          ...facts,
          why,
          remedy: 'The bytes are damaged, or the key or script is wrong',
        }),
    };
  }

  isLookedThrough(entry: Entry): boolean {
    return this.lookedThrough?.[entry.index] === 1;
  }

  isChecked(entry: Entry): boolean {
    return !this.deep.of(entry).isEmpty || entry.group.seal.some(({ sort }) => sort !== 'cipher');
  }

  private learnt(entry: number, plain: PlainRef): ReadonlyMap<string, Value> {
    if (this.lastKnown?.entry !== entry) for (const chunk of plain.chunks()) void chunk;
    return this.lastKnown!.known;
  }
}

/** The bytes of a field as they lie. */
function fieldSpan(node: RecordNode, name: string): BytesRef {
  const field = fieldIndex(node, name);
  return refOfSpan(node.space.source, node.offset + node.fieldStart(field), node.fieldLength(field));
}

function canonicalHash(value: number | bigint | Uint8Array): Value {
  return typeof value === 'bigint' ? canonical(value) : value;
}
