import {
  collect,
  concatRefs,
  FormatError,
  joinedSource,
  memorySource,
  refOfSpan,
  withFacts,
  type ByteSource,
  type BytesRef,
  type Stretched,
} from '../bytes';
import type { Budget } from './budget';
import { flattened } from './evaluation';
import { fieldIndex } from './field-index';
import type { Items } from './items';
import { located, type RecordNode, type Space } from './model';
import type { ReadEvaluation } from './read-evaluation';
import { resolveSeal, unseal } from './seal';
import { areSteady, streamedSource } from './streamed-source';
import { numberedRows } from './table';
import type { Compiled, FileType, Script } from './types';
import { asCount, asText, describeValue, type Value } from './values';

/** One of the files of an archive: the one that was opened, a companion, or the bytes inside a field. */
export interface ArchiveFile {
  readonly index: number;
  /** Undefined for the one that was opened. */
  readonly type: FileType | undefined;
  /** Number among several of its type, from 0. */
  readonly number: number;
  /** As it is called beside the opened one; for the bytes inside a field, what they are inside of. */
  readonly fileName: string;
  readonly space: Space;
  /** The fields that hold its bytes, where they lie inside one or, in pieces, inside several. */
  readonly holders: readonly FileHolder[] | undefined;
}

export interface FileHolder {
  readonly node: RecordNode;
  /** Number of the field. */
  readonly field: number;
}

/** Finds a file beside the one that was opened, by the name that the script works out. */
export type FindCompanion = (fileName: string, file: string, number: number) => ByteSource | undefined;

const MOST_FILES = 4096;
/** Bytes inside a field are kept in memory up to this length, and in a spool beyond. */
const MOST_HELD_INSIDE = 32 << 20;
/** Fewer are held as quickly. */
const LEAST_STREAMED = 8 << 20;

/** The name of a file without its folders. */
export const baseName = (name: string): string =>
  name.slice(Math.max(name.lastIndexOf('/'), name.lastIndexOf('\\')) + 1);

/** Opens the files of an archive when something is asked of them. */
export class ArchiveFiles {
  readonly all: ArchiveFile[];
  private readonly known = new Map<string, ArchiveFile>();
  private readonly counts = new Map<string, number>();
  private readonly spools: { discard(): void }[] = [];

  constructor(
    main: ByteSource,
    private readonly script: Script,
    private readonly context: ReadEvaluation,
    private readonly budget: Budget,
    private readonly find: FindCompanion | undefined,
  ) {
    const space: Space = { source: main, fileOffset: 0, within: '', file: 0 };
    this.all = [
      { index: 0, type: undefined, number: 0, fileName: baseName(main.name), space, holders: undefined },
    ];
  }

  /** How many files of a type there are; for those without a stated count, how many were opened. */
  count(name: string): number {
    const type = this.typeOf(name);
    if (!type.several) return 1;
    const known = this.counts.get(name);
    if (known !== undefined) return known;
    if (!type.count) return this.all.filter((file) => file.type === type).length;
    const { count } = type;
    const value = asCount(
      withFacts({ fieldPath: `files.${name}` }, () => count.run(this.context, undefined)),
    );
    this.refuseMany(value, name);
    this.counts.set(name, value);
    return value;
  }

  /** Throws FormatError `part-missing` where the file is not there. */
  open(name: string, number: number): ArchiveFile {
    const key = `${name} ${number}`;
    const known = this.known.get(key);
    if (known) return known;
    const type = this.typeOf(name);
    if (type.several && type.count && number >= this.count(name))
      throw new FormatError('out-of-range', {
        fieldPath: `files.${name}`,
        expected: `a number below ${this.count(name)}, the count of these files`,
        actual: `${number}`,
      });
    const index = this.all.length;
    this.refuseMany(index, name);
    const path = type.several ? `${name}[${number}]` : name;
    const file = withFacts({ fieldPath: `files.${path}` }, () =>
      type.from.sort === 'beside'
        ? this.companion(type, number, index, type.from.name)
        : this.inside(type, index, type.from, path),
    );
    this.known.set(key, file);
    this.all.push(file);
    return file;
  }

  /** What a file beside the opened one is called where that one is called `mainName`. */
  nameBeside(file: ArchiveFile, mainName: string): string {
    const from = file.type?.from;
    if (from?.sort !== 'beside') return file.fileName;
    const renamed = Object.create(this.context, {
      fileName: { value: baseName(mainName) },
    }) as ReadEvaluation;
    return this.nameOf(from.name, file.number, renamed);
  }

  /** Checked whenever it is worked out: what is written under a new name must not lead away either. */
  private nameOf(name: Compiled, number: number, context: ReadEvaluation): string {
    const { space } = this.all[0]!;
    const row = numberedRows(number + 1, space).at(number) as RecordNode;
    const fileName = asText(name.run(context, row));
    if (
      !fileName ||
      fileName.split(/[/\\]/).some((part) => part === '..' || part === '') ||
      fileName.includes('\0')
    )
      throw new FormatError('unsafe-path', {
        actual: JSON.stringify(fileName),
        expected: 'a name beside the archive or in a folder below',
      });
    return fileName;
  }

  discard(): void {
    for (const spool of this.spools.splice(0)) spool.discard();
  }

  private typeOf(name: string): FileType {
    const type = this.script.files.get(name);
    if (type) return type;
    throw new FormatError('script-wrong', { expected: 'a file of this script', actual: `'${name}'` });
  }

  private refuseMany(count: number, name: string): void {
    if (count > MOST_FILES)
      throw new FormatError('budget', {
        fieldPath: `files.${name}`,
        expected: `at most ${MOST_FILES} files`,
        actual: `${count}`,
      });
  }

  private companion(type: FileType, number: number, index: number, name: Compiled): ArchiveFile {
    const { space } = this.all[0]!;
    const fileName = this.nameOf(name, number, this.context);
    const source = this.find?.(fileName, type.name, number);
    if (!source)
      throw new FormatError('part-missing', {
        expected: `the file ${fileName} beside ${baseName(space.source.name)}`,
        actual: 'none',
        remedy: 'Put it there, or say where it is',
      });
    this.budget.allowHashing(source.length);
    return {
      index,
      type,
      number,
      fileName,
      space: { source, fileOffset: 0, within: '', file: index },
      holders: undefined,
    };
  }

  private inside(
    type: FileType,
    index: number,
    from: FileType['from'] & { sort: 'inside' },
    path: string,
  ): ArchiveFile {
    const held = from.of.run(this.context, undefined);
    const list: Items = from.inPieces ? flattened(held, this.context) : [held];
    const holders = Array.from({ length: list.length }, (_, i): FileHolder => {
      const node = asHolder(list.at(i));
      return { node, field: fieldIndex(node, from.field) };
    });
    const source = this.contentOf(holders, from, path);
    this.budget.allowHashing(source.length);
    return {
      index,
      type,
      number: 0,
      fileName: path,
      space: { source, fileOffset: 0, within: path, file: index },
      holders,
    };
  }

  private contentOf(
    holders: readonly FileHolder[],
    from: FileType['from'] & { sort: 'inside' },
    path: string,
  ): ByteSource {
    const stretches = holders.map(stretchOf);
    const [first] = stretches;
    const name = `${this.all[0]!.space.source.name}, ${path}`;
    const place = first && located(holders[0]!.node.space, first.offset);
    return withFacts({ ...place }, () => {
      const steps = resolveSeal(from.seal, this.context, from.inPieces ? undefined : holders[0]!.node);
      if (steps.length === 0)
        return first && stretches.length === 1
          ? viewOf(first.source, first.offset, first.length)
          : joinedSource(stretches, name);
      const stored = stretches.length === 1 ? spanOf(first!) : concatRefs(stretches.map(spanOf));
      const plain = unseal(steps, stored, this.context.primitives);
      const whole = (): ByteSource => this.held(plain, name);
      return areSteady(steps) && plain.length > LEAST_STREAMED ? streamedSource(plain, name, whole) : whole();
    });
  }

  /** Bytes in memory, or in a spool where they are many. */
  private held(plain: BytesRef, name: string): ByteSource {
    if (plain.length <= MOST_HELD_INSIDE) {
      this.budget.spendBytes(plain.length);
      return memorySource(collect(plain), name);
    }
    const spool = this.context.primitives.spool();
    this.spools.push(spool);
    for (const chunk of plain.chunks()) spool.write(chunk);
    return spool.source;
  }
}

const stretchOf = ({ node, field }: FileHolder): Stretched => ({
  source: node.space.source,
  offset: node.offset + node.fieldStart(field),
  length: node.fieldLength(field),
});

const spanOf = ({ source, offset, length }: Stretched): BytesRef => refOfSpan(source, offset, length);

function asHolder(value: Value): RecordNode {
  const held =
    typeof value === 'object' && 'sort' in value && value.sort === 'region' ? value.content : value;
  if (typeof held === 'object' && 'sort' in held && held.sort === 'record') return held;
  throw new FormatError('script-wrong', {
    expected: 'the record whose field holds the file',
    actual: describeValue(value),
  });
}

/** A stretch of a source as a source of its own. */
export function viewOf(of: ByteSource, from: number, length: number): ByteSource {
  return {
    name: of.name,
    length,
    read(offset, wanted) {
      if (offset < 0 || offset + wanted > length)
        throw new FormatError('out-of-range', {
          file: of.name,
          byteOffset: from + offset,
          expected: `${wanted} bytes within ${length}`,
        });
      return of.read(from + offset, wanted);
    },
  };
}
