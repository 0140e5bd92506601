import type { Archive } from '../archive';
import { FormatError, refOfBytes, refOfSpan, withFacts, type BytesRef, type ByteSink } from '../bytes';
import { resolveSeal, seal, type RegionNode } from '../script';
import { layoutItems, place, rotatePayloads, type LayoutItem, type Placed } from './layout';
import { regionsOf } from './regions';
import { WriteEvaluation, type NewPayload } from './write-evaluation';

/** Part of a new file: bytes taken from the source as they lie, or bytes made. */
export interface Segment {
  /** Offset in the new file. */
  readonly place: number;
  readonly length: number;
  readonly sort: 'table' | 'kept entry' | 'changed entry' | 'padding' | 'unexplained';
  /** What the segment is, in the script's terms or as a path. */
  readonly what: string;
  /** Set where the bytes are those of the source. */
  readonly copyFrom: number | undefined;
  readonly bytes: BytesRef;
}

export interface BuildPlan {
  readonly archive: Archive;
  readonly segments: readonly Segment[];
  readonly length: number;
  /** Lets go of the temporary files behind the plan. */
  discard(): void;
}

export interface PlanOptions {
  /** Everything derived is recomputed and every place chosen anew; only payloads and carried fields stay. */
  readonly anew?: boolean;
}

/** A compressed table that depends on places settles within a few rounds, or never. */
const MOST_ROUNDS = 8;

/**
 * Plans the archive with `changes`, plain bytes by entry number. Nothing is written; the plan is streamed
 * with `emit`. Throws FormatError where the archive has problems that a rewrite would carry on.
 */
export function planArchive(
  archive: Archive,
  changes: ReadonlyMap<number, BytesRef> = new Map(),
  options: PlanOptions = {},
): BuildPlan {
  const anew = options.anew ?? false;
  refuseBroken(archive);
  const payloads = new Map<number, NewPayload>();
  const evaluation = new WriteEvaluation(archive, payloads, anew);
  const discard = (): void => {
    for (const spool of evaluation.spools.splice(0)) spool.discard();
  };
  try {
    for (const [index, plain] of changes) sealChange(archive, evaluation, payloads, index, plain);
    const items = layoutItems(archive, new Set(changes.keys()), !anew);
    const ordered = anew && archive.script.entries.anyOrder ? rotatePayloads(items) : items;
    const placed = settle(archive, ordered, evaluation, payloads);
    const segments = toSegments(archive, placed, evaluation, anew);
    return { archive, segments, length: lengthOf(placed), discard };
  } catch (error) {
    discard();
    throw error instanceof FormatError ? error.with({ file: archive.source.name }) : error;
  }
}

function refuseBroken(archive: Archive): void {
  const broken = archive.entries.find(({ problem }) => problem && problem.code !== 'unsafe-path');
  if (broken?.problem) throw broken.problem;
  const [overlap] = archive.coverage.overlaps;
  if (overlap)
    throw new FormatError('overlap', {
      file: archive.source.name,
      byteOffset: overlap.offset,
      actual: `${overlap.length} bytes by ${overlap.what}`,
      remedy: 'An archive whose parts overlap cannot be laid out anew',
    });
}

function sealChange(
  archive: Archive,
  evaluation: WriteEvaluation,
  payloads: Map<number, NewPayload>,
  index: number,
  plain: BytesRef,
): void {
  const entry = archive.entries[index];
  if (!entry)
    throw new FormatError('bad-value', {
      expected: `an entry below ${archive.entries.length}`,
      actual: `${index}`,
    });
  const payload: NewPayload = { plain, stored: plain, changed: true };
  payloads.set(index, payload);
  withFacts({ fieldPath: entry.path }, () => {
    const steps = resolveSeal(archive.script.entries.seal, evaluation, entry.row);
    payload.stored = seal(steps, plain, archive.context.primitives, evaluation.spools);
  });
}

/** Lays out and works out until the lengths of all compressed tables agree with the layout. */
function settle(
  archive: Archive,
  items: readonly LayoutItem[],
  evaluation: WriteEvaluation,
  payloads: ReadonlyMap<number, NewPayload>,
): readonly Placed[] {
  const elastic = regionsOf(archive).filter((region) =>
    region.field.region!.seal.some((step) => step.sort !== 'cipher'),
  );
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const placed = place(items, (item) => itemLength(item, evaluation, payloads));
    evaluation.places = placesOf(placed, archive);
    evaluation.forget();
    if (!elastic.some((region) => grown(region, evaluation))) return placed;
  }
  throw new FormatError('script-wrong', {
    why: `a compressed table did not settle in ${MOST_ROUNDS} rounds`,
    remedy: 'The table depends on its own length',
  });
}

function grown(region: RegionNode, evaluation: WriteEvaluation): boolean {
  const { length } = evaluation.stored(region);
  const before = evaluation.regionLengths.get(region) ?? region.storedLength;
  evaluation.regionLengths.set(region, length);
  return length !== before;
}

function itemLength(
  item: LayoutItem,
  evaluation: WriteEvaluation,
  payloads: ReadonlyMap<number, NewPayload>,
): number {
  if (item.sort === 'record') return evaluation.storedLength(item.node);
  if (item.sort === 'payload' && item.changed) return payloads.get(item.entries[0]!.index)!.stored.length;
  return item.was;
}

const lengthOf = (placed: readonly Placed[]): number => {
  const last = placed.at(-1);
  return last ? last.place + last.length : 0;
};

function placesOf(placed: readonly Placed[], archive: Archive): WriteEvaluation['places'] {
  const records = new Map<unknown, number>();
  const payloads = new Map<number, number>();
  for (const { item, place: at } of placed) {
    if (item.sort === 'record') records.set(item.node, at);
    if (item.sort === 'payload') for (const entry of item.entries) payloads.set(entry.index, at);
  }
  const sorted = [...placed].sort((a, b) => a.item.from - b.item.from);
  return {
    fileSize: lengthOf(placed),
    ofRecord: (node) => records.get(node)!,
    ofPayload: (index) => payloads.get(index) ?? moved(sorted, archive.entries[index]!.offset),
  };
}

/** Where a place of the source, of an empty payload say, lies in the new file. */
function moved(sorted: readonly Placed[], from: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]!.item.from <= from) low = middle + 1;
    else high = middle;
  }
  const before = sorted[low - 1];
  return before ? before.place + Math.min(from - before.item.from, before.length) : from;
}

function toSegments(
  archive: Archive,
  placed: readonly Placed[],
  evaluation: WriteEvaluation,
  anew: boolean,
): Segment[] {
  const segments: Segment[] = [];
  const { source } = archive;
  for (const { item, place: at, length, padding } of placed) {
    if (padding > 0) segments.push(paddingSegment(archive, item, at - padding, padding, anew));
    if (length === 0) continue;
    if (item.sort === 'record')
      segments.push({
        place: at,
        length,
        sort: 'table',
        what: item.node.path,
        copyFrom: undefined,
        bytes: evaluation.serialise(item.node),
      });
    else if (item.sort === 'payload' && item.changed) {
      const entry = item.entries[0]!;
      const bytes = evaluation.stored({ sort: 'payload', row: entry.row, index: entry.index });
      segments.push({
        place: at,
        length,
        sort: 'changed entry',
        what: entry.path,
        copyFrom: undefined,
        bytes,
      });
    } else
      segments.push({
        place: at,
        length,
        sort: item.sort === 'payload' ? 'kept entry' : 'unexplained',
        what: item.sort === 'payload' ? item.entries[0]!.path : 'unexplained',
        copyFrom: item.from,
        bytes: refOfSpan(source, item.from, length),
      });
  }
  return segments;
}

/** Padding keeps the bytes it had where it is as long as it was. */
function paddingSegment(
  archive: Archive,
  item: LayoutItem,
  at: number,
  length: number,
  anew: boolean,
): Segment {
  const from = item.from - length;
  const before = archive.coverage.gaps.some((gap) => gap.offset === from && gap.length === length);
  const kept = !anew && before;
  return {
    place: at,
    length,
    sort: 'padding',
    what: 'padding',
    copyFrom: kept ? from : undefined,
    bytes: kept ? refOfSpan(archive.source, from, length) : refOfBytes(new Uint8Array(length)),
  };
}

/**
 * Streams a plan in order. `copy`, where given, moves stretches of the source in one go; neighbours that
 * lay side by side in the source become one stretch.
 */
export function emit(
  plan: BuildPlan,
  sink: ByteSink,
  hooks: { copy?: (from: number, length: number) => void; progress?: (done: number) => void } = {},
): void {
  let run: { from: number; length: number } | undefined;
  let done = 0;
  const flush = (): void => {
    if (!run) return;
    if (hooks.copy) hooks.copy(run.from, run.length);
    else for (const chunk of refOfSpan(plan.archive.source, run.from, run.length).chunks()) sink.write(chunk);
    done += run.length;
    run = undefined;
    hooks.progress?.(done);
  };
  for (const segment of plan.segments) {
    if (segment.copyFrom !== undefined) {
      if (run && run.from + run.length === segment.copyFrom) run.length += segment.length;
      else {
        flush();
        run = { from: segment.copyFrom, length: segment.length };
      }
      continue;
    }
    flush();
    for (const chunk of segment.bytes.chunks()) sink.write(chunk);
    done += segment.length;
    hooks.progress?.(done);
  }
  flush();
}
