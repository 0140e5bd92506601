import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { openArchive, type Archive } from '@/core/archive';
import { collect, memorySource, refOfBytes } from '@/core/bytes';
import { parseScript } from '@/core/script';
import { options } from '../../testing/holds';
import { ivfOf } from '../../testing/streams';
import { emit, planArchive } from '../plan';
import { proveArchive } from '../prove';
import { proveBuild } from '../prove-build';
import { editEntries } from './edit-entries';
import { newPieces } from './repiece';

/** Another game's film: high bytes first, times in pictures, pieces to the end of the file, and a table of where each of them lies before them. */
const script = (index: string): ReturnType<typeof parseScript> =>
  parseScript(`
format script: 1
title: Reel of another game
recognise: [{ at: 0, text: REEL }]
byte order: big
records:
  head:
    tag: { type: text(4), fixed: REEL }
    count: { type: u16, derived: count(pieces) }
    streamCount: { type: u8, derived: count(streams) }
    spare: u8
  stream: { sort: u8, size: { type: u32, derived: size(payload) } }
  ${index}
  piece:
    stream: u8
    at: u32
    size: { type: u16, derived: size(data) }
    data: bytes(size)
parts:
  head: { type: head, at: 0 }
  streams: { type: stream, at: end(head), count: head.streamCount }
  index: { type: row, at: end(streams), count: head.count }
  pieces: { type: piece, at: end(index), count: head.count }
entries:
  each: streams
  path: "if(sort == 1, 'picture.ivf', 'marks.txt')"
  size: size
  payload: { pieces: 'where(pieces, stream == outer.position)', field: data }
  film:
    track: "if(sort == 1, 'picture', 'marks')"
    cut: "if(sort == 1, 'ivf', 'lines')"
    time: at
    per second: 10
`);

const PLAIN =
  'row: { place: { type: u32, derived: "place(pieces[position])" }, at: { type: u32, derived: "pieces[position].at" } }';
/** Rows that are longer than a table of plain numbers may be. */
const HELD = 'row: { place: { type: u32, derived: "place(pieces[position])" }, name: ztext(utf-8) }';

interface Piece {
  readonly stream: number;
  readonly at: number;
  readonly data: Uint8Array;
}

/** The film as the game's own tools write it. */
function reel(pieces: readonly Piece[], row: (place: number, at: number) => Buffer): Buffer {
  const sorted = [...pieces].sort((a, b) => a.at - b.at || a.stream - b.stream);
  const head = Buffer.alloc(8);
  head.write('REEL');
  head.writeUInt16BE(sorted.length, 4);
  head.writeUInt8(2, 6);
  const streams = [1, 2].map((sort, i) => {
    const own = Buffer.alloc(5);
    own.writeUInt8(sort);
    own.writeUInt32BE(
      sorted.filter(({ stream }) => stream === i).reduce((sum, { data }) => sum + data.length, 0),
      1,
    );
    return own;
  });
  const bodies = sorted.map(({ stream, at, data }) => {
    const lead = Buffer.alloc(7);
    lead.writeUInt8(stream);
    lead.writeUInt32BE(at, 1);
    lead.writeUInt16BE(data.length, 5);
    return Buffer.concat([lead, data]);
  });
  let place = 18 + sorted.length * row(0, 0).length;
  const rows = bodies.map((body, i) => {
    const made = row(place, sorted[i]!.at);
    place += body.length;
    return made;
  });
  return Buffer.concat([head, ...streams, ...rows, ...bodies]);
}

const numbers = (...all: readonly number[]): Buffer => {
  const bytes = Buffer.alloc(4 * all.length);
  all.forEach((one, i) => bytes.writeUInt32BE(one, 4 * i));
  return bytes;
};

function pictures(frames: readonly string[]): Piece[] {
  const film = ivfOf(frames, 10);
  let from = 0;
  return frames.map((frame, i) => {
    const length = 12 + Buffer.from(frame).length + (i === 0 ? 32 : 0);
    from += length;
    return { stream: 0, at: i, data: film.subarray(from - length, from) };
  });
}
const marks = (times: readonly number[]): Piece[] =>
  times.map((at) => ({ stream: 1, at, data: Buffer.from(`${at}\there\n`) }));

const streamOf = (pieces: readonly Piece[]): Buffer => Buffer.concat(pieces.map(({ data }) => data));

function exchanged(
  own: ReturnType<typeof parseScript>,
  film: Buffer,
  streams: Readonly<Record<number, Buffer>>,
): Buffer {
  const opened = (bytes: Uint8Array): Archive =>
    openArchive(own, memorySource(new Uint8Array(bytes), 'a.reel'), options);
  const original = opened(film);
  const changes = new Map(
    Object.entries(streams).map(([index, bytes]) => [Number(index), refOfBytes(bytes)]),
  );
  const made = editEntries(opened(film), { pieces: newPieces(original, changes) });
  const plan = planArchive(made.archive, changes, { edits: made.marks });
  const parts: Buffer[] = [];
  emit(plan.files[0]!, { write: (bytes) => void parts.push(Buffer.from(bytes)) });
  const whole = Buffer.concat(parts);
  const built = opened(whole);
  expect(proveBuild(original, built, { changes, edited: made }).claims.filter(({ holds }) => !holds)).toEqual(
    [],
  );
  for (const [index, bytes] of Object.entries(streams))
    expect(Buffer.from(collect(built.plain(built.entries[Number(index)]!))).equals(bytes)).toBe(true);
  return whole;
}

describe.each<[string, string, (place: number, at: number) => Buffer]>([
  ['a table of plain rows', PLAIN, (place, at) => numbers(place, at)],
  ['a list of records', HELD, (place) => Buffer.concat([numbers(place), Buffer.from('same\0')])],
])('a film with %s of its pieces before them', (_what, index, row) => {
  const own = script(index);
  const before = [...pictures(['one', 'two', 'three']), ...marks([1, 2])];

  test('is read, and holds in every way', () => {
    const archive = openArchive(own, memorySource(new Uint8Array(reel(before, row)), 'a.reel'), options);
    expect(archive.entries.map(({ path }) => path)).toEqual(['picture.ivf', 'marks.txt']);
    expect(proveArchive(archive, options).claims.filter(({ holds }) => !holds)).toEqual([]);
  });

  test('any streams in the place of its own come out as its own tools would write them', () => {
    const films = fc.record({
      frames: fc.array(fc.string({ maxLength: 20 }), { minLength: 1, maxLength: 25 }),
      times: fc.uniqueArray(fc.nat(30), { minLength: 1, maxLength: 6 }),
    });
    fc.assert(
      fc.property(films, fc.subarray([0, 1], { minLength: 1 }), ({ frames, times }, changed) => {
        const fresh = [pictures(frames), marks([...times].sort((a, b) => a - b))];
        const wanted = [0, 1].flatMap((stream) =>
          changed.includes(stream) ? fresh[stream]! : before.filter((piece) => piece.stream === stream),
        );
        const streams = Object.fromEntries(changed.map((stream) => [stream, streamOf(fresh[stream]!)]));
        expect(exchanged(own, reel(before, row), streams).equals(reel(wanted, row))).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});
