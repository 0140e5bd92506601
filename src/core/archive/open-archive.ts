import { FormatError, hexOf64, refOfSpan, withFacts, type BytesRef, type ByteSource } from '../bytes';
import { hashes, type HashState } from '../hashes';
import type { Primitives } from '../primitives';
import {
  asCount,
  asInteger,
  asText,
  canonical,
  Budget,
  describeValue,
  flattened,
  implausible,
  ReadEvaluation,
  RecordReader,
  resolveSeal,
  unseal,
  verifyField,
  verifyPart,
  type Keys,
  type PayloadHandle,
  type PlainRef,
  type RecordNode,
  type ResolvedStep,
  type Script,
  type Space,
  type Value,
} from '../script';
import type { Archive, Entry, Stretch } from './archive';
import { coverageOf } from './coverage';
import { hashOfPath } from './names';
import { pathProblem, standInPath } from './path';

export interface OpenOptions {
  readonly primitives: Primitives;
  readonly keys?: Keys;
  /** Paths known from elsewhere, for archives that keep hashes only. */
  readonly names?: Iterable<string>;
  readonly budget?: Budget;
}

/** Whether a file's bytes bear one of the marks of a script. */
export function recognises(script: Script, source: ByteSource): boolean {
  return script.marks.some(
    ({ at, bytes }) =>
      at + bytes.length <= source.length &&
      source.read(at, bytes.length).every((byte, i) => byte === bytes[i]),
  );
}

/**
 * Reads and verifies all tables of an archive by its script. Throws FormatError with field path and byte
 * offset where the tables are wrong; what is wrong with one entry only is kept with that entry.
 */
export function openArchive(script: Script, source: ByteSource, options: OpenOptions): Archive {
  return withFacts({ file: source.name }, () => {
    if (!recognises(script, source))
      throw new FormatError('not-recognised', {
        byteOffset: script.marks[0]?.at,
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

class OpenedArchive implements Archive {
  readonly context: ReadEvaluation;
  readonly entries: readonly Entry[];
  readonly fieldsHeld: number;
  readonly coverage: Archive['coverage'];
  private readonly byRow = new Map<RecordNode, Entry>();

  constructor(
    readonly script: Script,
    readonly source: ByteSource,
    options: OpenOptions,
  ) {
    const budget = options.budget ?? new Budget();
    this.context = new ReadEvaluation(
      source,
      options.primitives,
      script.keys,
      options.keys ?? new Map(),
      budget,
    );
    const reader = new RecordReader(script, this.context, budget);
    const file: Space = { source, fileOffset: 0, within: '' };
    for (const part of script.parts) this.context.parts.set(part.name, reader.readPart(part, file));
    this.entries = this.readEntries(options);
    for (const entry of this.entries) this.byRow.set(entry.row, entry);
    this.context.payloads = {
      handleOf: (row) => {
        const entry = this.byRow.get(row);
        return entry && { sort: 'payload', row, index: entry.index };
      },
      place: (payload) => this.byHandle(payload).offset,
      storedLength: (payload) => this.byHandle(payload).storedSize,
      plain: (payload) => this.plain(this.byHandle(payload)),
    };
    let held = 0;
    for (const part of this.context.parts.values()) held += verifyPart(part, this.context);
    this.fieldsHeld = held;
    this.coverage = coverageOf(this.stretches(), source.length);
  }

  entryOf(row: RecordNode): Entry | undefined {
    return this.byRow.get(row);
  }

  private byHandle(payload: PayloadHandle): Entry {
    return this.entries[payload.index]!;
  }

  private readEntries(options: OpenOptions): Entry[] {
    const { entries } = this.script;
    const rows = flattened(
      withFacts({ fieldPath: 'entries.each' }, () => entries.each.run(this.context, undefined)),
      this.context,
    );
    const pool = this.namePool(options);
    return rows.map((row, index) => {
      if (typeof row !== 'object' || !('sort' in row) || row.sort !== 'record')
        throw new FormatError('script-wrong', {
          fieldPath: 'entries.each',
          expected: 'records',
          actual: describeValue(row),
        });
      return this.readEntry(row, index, pool);
    });
  }

  /** Paths by their hash: those the archive lists itself, then those given. */
  private namePool(options: OpenOptions): Map<string, string> {
    const pool = new Map<string, string>();
    const { names, hashing } = this.script.entries;
    if (!hashing) return pool;
    const add = (name: string): void => {
      const hash = hashOfPath(name, hashing, options.primitives);
      if (!pool.has(hash)) pool.set(hash, name);
    };
    if (names)
      for (const name of flattened(
        withFacts({ fieldPath: 'entries.names' }, () => names.run(this.context, undefined)),
        this.context,
      ))
        add(asText(name));
    for (const name of options.names ?? []) add(name);
    return pool;
  }

  private readEntry(row: RecordNode, index: number, pool: Map<string, string>): Entry {
    const type = this.script.entries;
    const facts = { fieldPath: row.path, byteOffset: this.context.place(row), file: this.source.name };
    const value = (of: { run(context: ReadEvaluation, node: RecordNode): Value }, name: string): Value =>
      withFacts({ ...facts, fieldPath: `${row.path}, ${name}` }, () => of.run(this.context, row));
    const hash = type.hash && hexOf64(asInteger(value(type.hash, 'hash')));
    const given = type.path ? asText(value(type.path, 'path')) : hash && pool.get(hash);
    const spelled = given?.replaceAll(type.hashing?.separator === '\\' ? '\\' : '/', '/');
    const unsafe = spelled === undefined ? undefined : pathProblem(spelled);
    const offset = asCount(value(type.at, 'payload.at'));
    const storedSize = asCount(value(type.storedSize, 'payload.size'));
    const size = asCount(value(type.size, 'size'));
    const path =
      spelled === undefined ? `unnamed/${hash ?? index}` : unsafe ? standInPath(index, spelled) : spelled;
    const problem = unsafe
      ? new FormatError('unsafe-path', {
          ...facts,
          actual: JSON.stringify(spelled),
          why: unsafe,
          remedy: `It is shown as ${path} and never written under its own name`,
        })
      : this.payloadProblem(row, offset, storedSize, size, facts);
    return { index, path, named: spelled !== undefined, hash, offset, storedSize, size, problem, row };
  }

  private payloadProblem(
    row: RecordNode,
    offset: number,
    storedSize: number,
    size: number,
    facts: { fieldPath: string; byteOffset: number; file: string },
  ): FormatError | undefined {
    if (offset + storedSize > this.source.length)
      return new FormatError('out-of-range', {
        ...facts,
        expected: `a payload within ${this.source.length} bytes`,
        actual: `${storedSize} bytes from ${offset}`,
        remedy: 'The file is cut short, or its table is wrong; get it anew',
      });
    try {
      const steps = resolveSeal(this.script.entries.seal, this.context, row, 'without keys');
      const doubt = implausible(steps, storedSize, size);
      return doubt
        ? new FormatError('bad-value', {
            ...facts,
            why: doubt,
            remedy: 'The table is wrong or the file damaged',
          })
        : undefined;
    } catch (error) {
      if (error instanceof FormatError) return error.with(facts);
      throw error;
    }
  }

  private stretches(): Stretch[] {
    const found: Stretch[] = [];
    for (const [name, part] of this.context.parts)
      for (const node of flattened(part, this.context)) {
        const record = node as RecordNode;
        found.push({ offset: record.offset, length: record.length, what: record.path || name });
      }
    for (const entry of this.entries)
      if (entry.offset + entry.storedSize <= this.source.length)
        found.push({ offset: entry.offset, length: entry.storedSize, what: entry.path });
    return found;
  }

  steps(entry: Entry): ResolvedStep[] {
    return withFacts(this.factsOf(entry), () =>
      resolveSeal(this.script.entries.seal, this.context, entry.row),
    );
  }

  private factsOf(entry: Entry): { file: string; fieldPath: string; byteOffset: number } {
    return { file: this.source.name, fieldPath: entry.path, byteOffset: entry.offset };
  }

  stored(entry: Entry): BytesRef {
    this.refuseBroken(entry);
    return refOfSpan(this.source, entry.offset, entry.storedSize);
  }

  /** An unsafe path does not make the bytes unreadable; anything else does. */
  private refuseBroken(entry: Entry): void {
    if (entry.problem && entry.problem.code !== 'unsafe-path') throw entry.problem;
  }

  plain(entry: Entry): PlainRef {
    const stored = this.stored(entry);
    const steps = this.steps(entry);
    const facts = this.factsOf(entry);
    const ref = withFacts(facts, () => unseal(steps, stored, this.context.primitives));
    const deep = entry.row.type.fields.filter((field) => field.role.sort === 'derived' && field.role.deep);
    if (steps.length === 0 && deep.length === 0) return stored;
    const verify = (known: ReadonlyMap<string, Value>, length: number): void => {
      if (length !== entry.size)
        throw new FormatError('derived-mismatch', {
          ...facts,
          expected: `${entry.size} bytes`,
          actual: `${length}`,
        });
      const seen = Object.create(this.context) as ReadEvaluation;
      seen.plain = () => ({ length, known, chunks: () => ref.chunks() });
      for (const field of deep)
        try {
          verifyField(entry.row, field, seen);
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          const why = `the bytes of ${entry.path} are damaged, or the key or script is wrong`;
          throw new FormatError(error.code, { ...error.facts, why });
        }
    };
    const { primitives } = this.context;
    return {
      length: entry.size,
      *chunks() {
        const states = new Map<string, HashState>();
        for (const field of deep)
          if (field.role.sort === 'derived')
            for (const name of field.role.from.hashesPayload)
              states.set(name, hashes.get(name)!.start(primitives));
        let length = 0;
        try {
          for (const chunk of ref.chunks()) {
            for (const state of states.values()) state.update(chunk);
            length += chunk.length;
            yield chunk;
          }
          verify(new Map([...states].map(([name, state]) => [name, canonicalHash(state.value())])), length);
        } catch (error) {
          throw error instanceof FormatError ? error.with(facts) : error;
        }
      },
    };
  }
}

function canonicalHash(value: number | bigint | Uint8Array): Value {
  return typeof value === 'bigint' ? canonical(value) : value;
}
