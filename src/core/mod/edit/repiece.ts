import type { Archive, Entry } from '../../archive';
import { FormatError, withFacts, type BytesRef } from '../../bytes';
import { asCount, asText, HeldRecord, type RecordNode } from '../../script';
import { cutStream, STREAM_CUTS, type StreamCut, type StreamPiece } from '../../streams';
import { notEditable, type Edits, type NewPiece } from './list-edits';
import { listAround, partsAlong, type ListPlace } from './list-places';

const USUAL_UNITS = 1000;

/** How many units of time a second has in an entry's pieces, as the script says. */
export function unitsASecond(archive: Archive, { group, row }: Entry): number {
  const { perSecond } = group.film ?? {};
  return perSecond ? Math.max(1, asCount(perSecond.run(archive.context, row))) : USUAL_UNITS;
}

/** How the stream of an entry is cut, where the script says that it falls into pieces with times. */
function cutOf(archive: Archive, { group, row, path }: Entry): StreamCut | undefined {
  if (group.payload.sort !== 'pieces' || !group.film?.cut || !group.film.time) return undefined;
  const word = asText(group.film.cut.run(archive.context, row));
  const found = STREAM_CUTS.find((cut) => cut === word);
  if (!found && word !== '')
    throw new FormatError('script-wrong', {
      ...{ fieldPath: `${path}, film.cut`, expected: STREAM_CUTS.join(', '), actual: word },
      remedy: 'Write it in the script as one of these; empty where its pieces stay as they are',
    });
  return found;
}

/**
 * The pieces into which new content of streams falls, by the number of the entry: where its pictures or pages end, and when each is shown. Entries whose script does not say how
 * keep the pieces that they have. Throws FormatError for a stream that is not what the slot holds.
 */
export function newPieces(
  archive: Archive,
  changes: ReadonlyMap<number, BytesRef>,
): Map<number, readonly StreamPiece[]> {
  const found = new Map<number, readonly StreamPiece[]>();
  for (const [index, plain] of changes) {
    const entry = archive.entries[index];
    const cut = entry && cutOf(archive, entry);
    if (!cut) continue;
    const pieces = withFacts({ file: entry.path }, () => cutStream(cut, plain, unitsASecond(archive, entry)));
    if (pieces.length === 0)
      throw new FormatError('bad-value', {
        ...{ file: entry.path, expected: 'at least one piece', actual: 'none' },
        remedy: 'A stream without anything in it cannot stand in a film; leave the old one',
      });
    found.set(index, pieces);
  }
  return found;
}

/** Puts the pieces of streams anew into the lists that they lie in, each where its time asks for; those of other streams stay in their order. */
export function repiece(
  archive: Archive,
  edits: Edits,
  wanted: ReadonlyMap<number, readonly StreamPiece[]>,
): void {
  const lists = new Map<unknown, { place: ListPlace; entries: number[] }>();
  for (const index of wanted.keys()) {
    const entry = archive.entries[index]!;
    const [first] = entry.pieces ?? [];
    if (!first) throw notEditable(`${entry.path} has no piece that new ones could be like`);
    const place = listAround(archive, first);
    if (!place || entry.pieces!.some(({ siblings }) => siblings !== place.items))
      throw notEditable(`the pieces of ${entry.path} stand in no one list`);
    const known = lists.get(place.items);
    if (known) known.entries.push(index);
    else lists.set(place.items, { place, entries: [index] });
  }
  for (const { place, entries } of lists.values()) {
    const gone = new Set<RecordNode>();
    const fresh: NewPiece[] = [];
    for (const index of entries) {
      const { pieces = [], group } = archive.entries[index]!;
      for (const piece of pieces) gone.add(piece);
      const units = unitsASecond(archive, archive.entries[index]!);
      const like = pieces[0] as HeldRecord;
      for (const { seconds } of wanted.get(index)!) {
        const time = Math.round(seconds * units);
        fresh.push({
          like,
          time,
          order: index,
          prepare: (copy) => edits.stretch(setTime(copy, group.film!.time!, time)),
        });
      }
    }
    const along = partsAlong(archive, place);
    const sources = edits.exchange(place, gone, fresh, (node) => timeOf(archive, node));
    for (const other of along)
      edits.rebuild(
        other,
        sources.map(({ from, isFresh }) => ({ from, isFresh })),
      );
  }
}

/** When a piece of any of the streams is shown; undefined where its script does not say. */
function timeOf(archive: Archive, node: HeldRecord): number | undefined {
  const names = archive.entries[node.entry]?.group.film?.time;
  if (!names) return undefined;
  const { record, field } = fieldAt(node, names);
  return Number(record.get(field));
}

function fieldAt(node: HeldRecord, names: readonly string[]): { record: HeldRecord; field: number } {
  let record = node;
  for (const [i, name] of names.entries()) {
    const field = record.type.byName.get(name);
    if (field === undefined) break;
    if (i === names.length - 1) return { record, field };
    const held = record.get(field);
    const inner = typeof held === 'object' && 'sort' in held && held.sort === 'region' ? held.content : held;
    if (!(inner instanceof HeldRecord)) break;
    record = inner;
  }
  throw new FormatError('script-wrong', {
    ...{ fieldPath: `${node.path}, film.time`, expected: 'a field of the pieces', actual: names.join('.') },
  });
}

function setTime(copy: HeldRecord, names: readonly string[], time: number): HeldRecord {
  const { record, field } = fieldAt(copy, names);
  const { role, name } = record.type.fields[field]!;
  if (role.sort !== 'carried')
    throw new FormatError('script-wrong', {
      ...{ fieldPath: `${record.path}.${name}`, expected: 'a field that is carried', actual: role.sort },
      remedy: 'What the section of films calls the time of a piece is written by it, and is not derived',
    });
  record.values[field] = time;
  return record;
}
