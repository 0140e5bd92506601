import type { Archive } from '../archive';
import {
  concatRefs,
  equalBytes,
  firstDifference,
  refOfSpan,
  sliceOf,
  withFacts,
  type BytesRef,
} from '../bytes';
import {
  asCount,
  resolveSeal,
  seal,
  type ArchiveFile,
  type FieldType,
  type FileType,
  type RecordNode,
  type ResolvedStep,
} from '../script';
import { sameSteps } from './same-steps';
import { shareOut } from './share-out';
import type { WriteEvaluation } from './write-evaluation';

type InsideField = FileType['from'] & { sort: 'inside' };

/** Sealed bytes that are kept from one round of the layout to the next. */
interface Made {
  readonly digest: Uint8Array;
  readonly steps: readonly ResolvedStep[];
  readonly stored: BytesRef;
}

/**
 * Files that lie inside a field: laid out like any other, then sealed to the bytes of that field. What comes
 * out as it was is not sealed anew, so that its stored bytes stay.
 */
export class InnerFiles {
  /** Gives the new content of a file; set by the planner. */
  content: ((file: ArchiveFile) => readonly BytesRef[]) | undefined;
  private readonly made = new Map<ArchiveFile, Made>();
  private round = new Map<ArchiveFile, readonly BytesRef[]>();
  private readonly inside: readonly ArchiveFile[];
  /** The files that lie in fields of a record, and which of their pieces it holds. */
  private readonly held = new Map<RecordNode, { file: ArchiveFile; piece: number }[]>();

  constructor(
    private readonly archive: Archive,
    private readonly evaluation: WriteEvaluation,
  ) {
    this.inside = archive.files.filter(({ holders }) => holders);
    for (const file of this.inside)
      file.holders!.forEach(({ node }, piece) => {
        const known = this.held.get(node);
        if (known) known.push({ file, piece });
        else this.held.set(node, [{ file, piece }]);
      });
  }

  get some(): boolean {
    return this.inside.length > 0;
  }

  forget(): void {
    this.round = new Map();
  }

  /** The new stored bytes of a field, where it holds a file or a piece of one. */
  storedIn(node: RecordNode, field: FieldType): BytesRef | undefined {
    const found = this.held.get(node)?.find(({ file, piece }) => file.holders![piece]!.field === field.index);
    if (!found || !this.content) return undefined;
    let pieces = this.round.get(found.file);
    if (!pieces) this.round.set(found.file, (pieces = this.piecesOf(found.file)));
    return pieces[found.piece];
  }

  private piecesOf(file: ArchiveFile): readonly BytesRef[] {
    const holders = file.holders!;
    const was = holders.map(({ node, field }) =>
      refOfSpan(node.space.source, node.offset + node.fieldStart(field), node.fieldLength(field)),
    );
    const stored = this.sealed(file);
    if (!stored) return was;
    if (was.length === 1) return [stored];
    const from = file.type!.from as InsideField;
    const unit = from.unit ? Math.max(1, asCount(from.unit.run(this.archive.context, undefined))) : 1;
    let at = 0;
    return shareOut(
      was.map(({ length }) => length),
      stored.length,
      unit,
    ).map((end) => {
      const piece = sliceOf(stored, at, end - at);
      at = end;
      return piece;
    });
  }

  /** The new stored bytes of a file; nothing where they are what they were. */
  private sealed(file: ArchiveFile): BytesRef | undefined {
    const { evaluation } = this;
    const from = file.type!.from as InsideField;
    const node = from.inPieces ? undefined : file.holders![0]!.node;
    const plain = concatRefs(this.content!(file));
    const now = resolveSeal(from.seal, evaluation, node);
    const before = resolveSeal(from.seal, evaluation.original, node);
    const { source } = file.space;
    const same =
      plain.length === source.length &&
      sameSteps(now, before) &&
      firstDifference(plain, refOfSpan(source, 0, source.length)) === undefined;
    if (same) return undefined;
    const digest = this.digestOf(plain);
    const made = this.made.get(file);
    if (made && equalBytes(made.digest, digest) && sameSteps(made.steps, now)) return made.stored;
    const stored = withFacts({ fieldPath: `files.${file.fileName}` }, () =>
      this.kept(seal(now, plain, evaluation.primitives, evaluation.spools).stored),
    );
    this.made.set(file, { digest, steps: now, stored });
    return stored;
  }

  private digestOf(ref: BytesRef): Uint8Array {
    const hash = this.evaluation.primitives.digest('sha256');
    for (const chunk of ref.chunks()) hash.update(chunk);
    return hash.value();
  }

  /** A stream of made bytes is written down, since places may change until all are settled. */
  private kept(ref: BytesRef): BytesRef {
    const spool = this.evaluation.primitives.spool();
    this.evaluation.spools.push(spool);
    for (const chunk of ref.chunks()) spool.write(chunk);
    return refOfSpan(spool.source, 0, ref.length);
  }
}
