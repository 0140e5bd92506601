import type { Archive } from '../archive';
import {
  concatRefs,
  FormatError,
  refOfBytes,
  refOfSpan,
  withFacts,
  type BytesRef,
  type ByteSink,
} from '../bytes';
import { resolveSeal, seal, type RecordNode, type RegionNode } from '../script';
import { layoutItems, place, rotatePayloads, type LayoutItem, type Placed } from './layout';
import { PlannedPlaces } from './planned-places';
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
    const ordered = anew ? rotatePayloads(items) : items;
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
    const steps = resolveSeal(entry.group.seal, evaluation, entry.row);
    const sealed = seal(steps, plain, archive.context.primitives, evaluation.spools);
    payload.stored = sealed.stored;
    payload.blockSizes = sealed.blockSizes;
  });
}

/** Lays out and works out until places and lengths no longer change. */
function settle(
  archive: Archive,
  items: readonly LayoutItem[],
  evaluation: WriteEvaluation,
  payloads: ReadonlyMap<number, NewPayload>,
): readonly Placed[] {
  const elastic = regionsOf(archive).filter((region) =>
    region.field.region!.seal.some((step) => step.sort !== 'cipher'),
  );
  const stretches =
    elastic.length > 0 || items.some((item) => item.sort === 'record' && item.node.type.elastic);
  const places = new PlannedPlaces(archive, evaluation, items);
  evaluation.places = places;
  let before: readonly Placed[] | undefined;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    evaluation.forget();
    const placed = place(items, (item, at) => {
      places.set(item, at);
      return itemLength(item, evaluation, payloads);
    });
    places.finish(placed);
    evaluation.forget();
    const grew = elastic.map((region) => grown(region, evaluation)).includes(true);
    if (!stretches || (!grew && before && samePlaces(before, placed))) return placed;
    before = placed;
  }
  throw new FormatError('script-wrong', {
    why: `places and lengths did not settle in ${MOST_ROUNDS} rounds`,
    remedy: 'A table or field depends on its own length',
  });
}

function samePlaces(a: readonly Placed[], b: readonly Placed[]): boolean {
  return a.every((one, i) => one.place === b[i]!.place && one.length === b[i]!.length);
}

function grown(region: RegionNode, evaluation: WriteEvaluation): boolean {
  const { length } = evaluation.stored(region);
  const { ofRegions } = evaluation.lengths;
  const before = ofRegions.get(region) ?? region.storedLength;
  ofRegions.set(region, length);
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
    if (item.sort === 'record') segments.push(...recordSegments(archive, item.node, at, length, evaluation));
    else if (item.sort === 'table') {
      const bytes = concatRefs(evaluation.piecesOf(item.table));
      segments.push({ place: at, length, sort: 'table', what: item.table.path, copyFrom: undefined, bytes });
    } else if (item.sort === 'payload' && item.changed) {
      const entry = item.entries[0]!;
      const bytes = evaluation.stored({ sort: 'payload', index: entry.index });
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

/** A record in its pieces: payloads inside that are kept are copied as they lie. */
function recordSegments(
  archive: Archive,
  node: RecordNode,
  from: number,
  length: number,
  evaluation: WriteEvaluation,
): Segment[] {
  let at = from;
  const segments = evaluation.piecesOf(node).map((bytes): Segment => {
    const copied = bytes.span?.source === archive.source;
    const segment: Segment = {
      place: at,
      length: bytes.length,
      sort: copied ? 'kept entry' : bytes.span ? 'changed entry' : 'table',
      what: node.path,
      copyFrom: copied ? bytes.span!.offset : undefined,
      bytes,
    };
    at += bytes.length;
    return segment;
  });
  if (at !== from + length)
    throw new FormatError('script-wrong', {
      fieldPath: node.path,
      expected: `${length} bytes`,
      actual: `${at - from}`,
      why: 'the record is not as long as its fields say',
    });
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
  const fill = item.sort === 'payload' ? item.fill : 0;
  return {
    place: at,
    length,
    sort: 'padding',
    what: 'padding',
    copyFrom: kept ? from : undefined,
    bytes: kept ? refOfSpan(archive.source, from, length) : refOfBytes(new Uint8Array(length).fill(fill)),
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
