import type { Archive } from '../archive';
import { concatRefs, FormatError, refOfSpan, type BytesRef, type ByteSink } from '../bytes';
import { asCount, type ArchiveFile, type RecordNode, type RegionNode } from '../script';
import { NO_EDITS, type EditMarks } from './edit/edit-marks';
import { layoutItems, place, rotatePayloads, type LayoutItem, type Placed } from './layout';
import { paddingOf } from './padding';
import { PlannedPlaces } from './planned-places';
import { regionsOf } from './regions';
import { sealChange } from './seal-change';
import { appendChanged, refuseHeld, refuseTiedPlaces, shareIdentical, type Way } from './ways';
import { WriteEvaluation, type NewPayload } from './write-evaluation';

/** Part of a new file: bytes taken from the old one as they lie, or bytes made. */
export interface Segment {
  /** Offset in the new file. */
  readonly place: number;
  readonly length: number;
  readonly sort: 'table' | 'kept entry' | 'changed entry' | 'padding' | 'unexplained';
  /** What the segment is, in the script's terms or as a path. */
  readonly what: string;
  /** Set where the bytes are those of the old file. */
  readonly copyFrom: number | undefined;
  readonly bytes: BytesRef;
}

/** One new file. */
export interface FilePlan {
  readonly file: ArchiveFile;
  readonly segments: readonly Segment[];
  readonly length: number;
}

export interface BuildPlan {
  readonly archive: Archive;
  /** One for each file of the archive that is a file of its own, the one that was opened first. */
  readonly files: readonly FilePlan[];
  /** Bytes of all files together. */
  readonly length: number;
  /** Lets go of the temporary files behind the plan. */
  discard(): void;
}

export interface PlanOptions {
  /** Everything derived is recomputed and every place chosen anew; only payloads and carried fields stay. */
  readonly anew?: boolean;
  /** Where changed entries go; all others make room for them where nothing is said. */
  readonly way?: Way;
  /** Where records were added and taken out, for an archive that was edited. */
  readonly edits?: EditMarks;
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
  const packs = options.way === 'packed';
  const anew = (options.anew ?? false) || packs;
  const marks = options.edits ?? NO_EDITS;
  // Of an edited archive the one that it was made from has been looked at.
  if (!options.edits) refuseBroken(archive);
  const payloads = new Map<number, NewPayload>();
  const evaluation = new WriteEvaluation(archive, payloads, anew, marks);
  const discard = (): void => {
    for (const spool of evaluation.spools.splice(0)) spool.discard();
  };
  try {
    for (const [index, plain] of changes) sealChange(archive, evaluation, payloads, index, plain);
    if (options.way === 'appended') refuseHeld(archive, payloads);
    const laidOut = layoutItems(archive, new Set(changes.keys()), !anew, marks);
    const items = laidOut.map((ofFile) => {
      const shared = shareIdentical(archive, ofFile, payloads, packs);
      if (options.way === 'appended') return appendChanged(shared, payloads);
      return options.anew ? rotatePayloads(shared) : shared;
    });
    const places = settle(archive, items, evaluation, payloads, anew);
    if (options.way === 'appended') refuseTiedPlaces(archive, evaluation, payloads);
    const segmentsOf = (file: ArchiveFile): Segment[] =>
      toSegments(archive, file, places.inFile(file.index), evaluation, anew);
    const files = archive.files
      .filter(({ holders }) => !holders)
      .map((file) => ({ file, segments: segmentsOf(file), length: places.sizeOfFile(file.index) }));
    const length = files.reduce((sum, file) => sum + file.length, 0);
    refuseLarge(archive, length);
    return { archive, files, length, discard };
  } catch (error) {
    discard();
    throw error instanceof FormatError ? error.with({ file: archive.source.name }) : error;
  }
}

/** Throws where an archive would become larger than its script says that the program loads, and than it was. */
function refuseLarge(archive: Archive, length: number): void {
  const { script, context } = archive;
  if (!script.mostBytes) return;
  const before = archive.files
    .filter(({ holders }) => !holders)
    .reduce((sum, { space }) => sum + space.source.length, 0);
  if (length <= before) return;
  const most = asCount(script.mostBytes.run(context, undefined));
  if (length > most)
    throw new FormatError('does-not-fit', {
      fieldPath: 'most bytes',
      expected: `at most ${most} bytes`,
      actual: `${length}`,
      why: `${script.title} says that the program loads no more`,
      remedy: `Take ${length - most} bytes out: shorter entries, or codecs that take less`,
    });
}

/** Throws where an archive has problems that a rewrite would carry on. */
export function refuseBroken(archive: Archive): void {
  const broken = archive.entries.find(({ problem }) => problem);
  if (broken?.problem) throw broken.problem;
  const [overlap] = archive.coverage.overlaps;
  if (overlap)
    throw new FormatError('overlap', {
      file: archive.files[overlap.file]!.space.source.name,
      byteOffset: overlap.offset,
      actual: `${overlap.length} bytes by ${overlap.what}`,
      remedy: 'An archive whose parts overlap cannot be laid out anew',
    });
}

/** Lays out and works out until places and lengths no longer change. */
function settle(
  archive: Archive,
  items: readonly (readonly LayoutItem[])[],
  evaluation: WriteEvaluation,
  payloads: ReadonlyMap<number, NewPayload>,
  anew: boolean,
): PlannedPlaces {
  const { marks } = evaluation;
  const elastic = regionsOf(archive).filter(
    (region) => marks.regions.has(region) || region.field.region!.seal.some((step) => step.sort !== 'cipher'),
  );
  const stretches =
    elastic.length > 0 ||
    marks !== NO_EDITS ||
    evaluation.inner.some ||
    items.flat().some((item) => item.sort === 'record' && item.node.type.elastic);
  const places = new PlannedPlaces(archive, evaluation, items, anew);
  evaluation.places = places;
  evaluation.inner.content = (file) =>
    toSegments(archive, file, places.inFile(file.index), evaluation, anew).map(({ bytes }) => bytes);
  let before: readonly Placed[] | undefined;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    evaluation.forget();
    // A file inside a field of another one is opened later, and has to be laid out before it.
    const placed = [...archive.files].reverse().flatMap(({ index }) => {
      const ofFile = place(
        items[index]!,
        (item, at) => {
          places.set(item, at);
          return itemLength(item, evaluation, payloads);
        },
        (item) => item.alignNow?.(evaluation) ?? item.align,
      );
      places.finish(index, ofFile);
      return ofFile;
    });
    evaluation.forget();
    const grew = elastic.map((region) => grown(region, evaluation)).includes(true);
    if (!stretches || (!grew && before && samePlaces(before, placed))) return places;
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
  if (item.sort === 'table') return item.table.parts.byteLength;
  if (item.sort === 'payload' && item.changed) return payloads.get(item.entries[0]!.index)!.stored.length;
  return item.was;
}

function toSegments(
  archive: Archive,
  file: ArchiveFile,
  placed: readonly Placed[],
  evaluation: WriteEvaluation,
  anew: boolean,
): Segment[] {
  const segments: Segment[] = [];
  const { source } = file.space;
  for (const one of placed) {
    const { item, place: at, length, padding } = one;
    if (padding > 0) {
      const { bytes, from } = paddingOf(archive, file.index, one, anew);
      segments.push({
        place: at - padding,
        length: padding,
        sort: 'padding',
        what: 'padding',
        copyFrom: from,
        bytes,
      });
    }
    if (length === 0) continue;
    if (item.sort === 'record') segments.push(...recordSegments(file, item.node, at, length, evaluation));
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
  { space }: ArchiveFile,
  node: RecordNode,
  from: number,
  length: number,
  evaluation: WriteEvaluation,
): Segment[] {
  let at = from;
  const segments = evaluation.piecesOf(node).map((bytes): Segment => {
    const copied = bytes.span?.source === space.source;
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

/** Streams one file of a plan in order. */
export function emit(
  plan: FilePlan,
  sink: ByteSink,
  hooks: { progress?: (done: number) => void } = {},
): void {
  let done = 0;
  for (const segment of plan.segments) {
    for (const chunk of segment.bytes.chunks()) sink.write(chunk);
    done += segment.length;
    hooks.progress?.(done);
  }
}
