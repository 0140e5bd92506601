import type { Archive } from '../archive';
import { concatRefs, equalBytes, firstDifference, refOfSpan, withFacts, type BytesRef } from '../bytes';
import {
  resolveSeal,
  seal,
  type ArchiveFile,
  type FieldType,
  type RecordNode,
  type ResolvedStep,
} from '../script';
import { sameSteps } from './same-steps';
import type { WriteEvaluation } from './write-evaluation';

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
  private round = new Map<ArchiveFile, BytesRef>();
  private readonly holders: readonly ArchiveFile[];

  constructor(
    archive: Archive,
    private readonly evaluation: WriteEvaluation,
  ) {
    this.holders = archive.files.filter(({ holder }) => holder);
  }

  get some(): boolean {
    return this.holders.length > 0;
  }

  forget(): void {
    this.round = new Map();
  }

  /** The new stored bytes of a field, where it holds a file. */
  storedIn(node: RecordNode, field: FieldType): BytesRef | undefined {
    const file = this.holders.find(({ holder }) => holder!.node === node && holder!.field === field.index);
    if (!file || !this.content) return undefined;
    let stored = this.round.get(file);
    if (!stored) this.round.set(file, (stored = this.sealed(file)));
    return stored;
  }

  private sealed(file: ArchiveFile): BytesRef {
    const { evaluation } = this;
    const { node, field } = file.holder!;
    const from = file.type!.from;
    const steps = from.sort === 'inside' ? from.seal : [];
    const plain = concatRefs(this.content!(file));
    const now = resolveSeal(steps, evaluation, node);
    const before = resolveSeal(steps, evaluation.original, node);
    const { source } = file.space;
    const same =
      plain.length === source.length &&
      sameSteps(now, before) &&
      firstDifference(plain, refOfSpan(source, 0, source.length)) === undefined;
    if (same) {
      const at = node.offset + node.fieldStart(field);
      return refOfSpan(node.space.source, at, node.fieldLength(field));
    }
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
