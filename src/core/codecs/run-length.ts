import { numberSetting, wordSetting, type Settings } from '../settings';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';

const MOST_RUN = 128;

/** Programs that unpack row by row want no run to reach into the next one. */
const ROW = { about: 'bytes of a row that no run reaches beyond; 0 for no rows', default: 0 } as const;

/** The plain bytes that runs are made in: rows, or all of them. */
function* rowsOf(plain: Uint8Array, settings: Settings): Generator<Uint8Array> {
  const row = numberSetting(settings, 'row') || plain.length;
  for (let at = 0; at < plain.length; at += row) yield plain.subarray(at, at + row);
}

/** Runs and literals told apart by a signed count byte, as in TIFF 6.0, section 9. */
export const packbits: Codec = {
  name: 'packbits',
  about: 'run-length with a signed count before each run or stretch (PackBits, TIFF 6.0)',
  mostExpansion: 64,
  settings: { row: ROW },
  decode(stored, limit) {
    const out = new GrowingBytes(limit);
    for (let at = 0; at < stored.length;) {
      const count = stored[at++]!;
      if (count === 128) continue;
      if (count < 128) {
        if (at + count + 1 > stored.length) throw new RangeError('literals run beyond the end');
        out.append(stored.subarray(at, at + count + 1));
        at += count + 1;
      } else {
        if (at >= stored.length) throw new RangeError('a run has no byte');
        out.reserve(257 - count);
        const byte = stored[at++]!;
        for (let i = count; i < 257; i++) out.push(byte);
      }
    }
    return out.finish();
  },
  encode(plain, _primitives, settings) {
    const out = new GrowingBytes(2 * plain.length + 2);
    for (const row of rowsOf(plain, settings)) packRow(row, out);
    return out.finish();
  },
};

function packRow(plain: Uint8Array, out: GrowingBytes): void {
  for (let at = 0; at < plain.length;) {
    const run = runAt(plain, at, MOST_RUN);
    if (run >= 2) {
      out.push(257 - run);
      out.push(plain[at]!);
      at += run;
      continue;
    }
    let end = at + 1;
    while (end < plain.length && end - at < MOST_RUN && runAt(plain, end, 3) < 3) end++;
    out.push(end - at - 1);
    out.append(plain.subarray(at, end));
    at = end;
  }
}

const PCX_MARK = 0xc0;
const PCX_MOST = 63;

/** A run where the two highest bits of a byte are set: its low six bits count, the next byte is repeated. */
export const pcx: Codec = {
  name: 'pcx',
  about: 'run-length with a count in the low six bits of a byte above 191, as in PCX files',
  mostExpansion: 32,
  settings: { row: ROW },
  decode(stored, limit) {
    const out = new GrowingBytes(limit);
    for (let at = 0; at < stored.length;) {
      const byte = stored[at++]!;
      if (byte < PCX_MARK) out.push(byte);
      else {
        if (at >= stored.length) throw new RangeError('a run has no byte');
        const count = byte - PCX_MARK;
        out.reserve(count);
        for (let i = 0; i < count; i++) out.push(stored[at]!);
        at++;
      }
    }
    return out.finish();
  },
  encode(plain, _primitives, settings) {
    const out = new GrowingBytes(2 * plain.length + 2);
    for (const row of rowsOf(plain, settings))
      for (let at = 0; at < row.length;) {
        const run = runAt(row, at, PCX_MOST);
        if (run > 1 || row[at]! >= PCX_MARK) out.push(PCX_MARK + run);
        out.push(row[at]!);
        at += run;
      }
    return out.finish();
  },
};

/** Nothing but runs: a count and a byte, over and over. */
export const pairs: Codec = {
  name: 'pairs',
  about: 'run-length in pairs of a count and a byte',
  mostExpansion: 256,
  settings: {
    order: { about: 'which comes first', default: 'count', words: ['count', 'byte'] },
    bias: { about: 'added to a count as it is stored', default: 0 },
    row: ROW,
  },
  decode(stored, limit, _primitives, settings) {
    const bias = numberSetting(settings, 'bias');
    const first = wordSetting(settings, 'order') === 'count' ? 0 : 1;
    if (stored.length % 2 !== 0) throw new RangeError('the last pair has one byte');
    const out = new GrowingBytes(limit);
    for (let at = 0; at < stored.length; at += 2) {
      const count = stored[at + first]! + bias;
      out.reserve(count);
      for (let i = 0; i < count; i++) out.push(stored[at + 1 - first]!);
    }
    return out.finish();
  },
  encode(plain, _primitives, settings) {
    const bias = numberSetting(settings, 'bias');
    const isCountFirst = wordSetting(settings, 'order') === 'count';
    const out = new GrowingBytes(2 * plain.length + 2);
    for (const row of rowsOf(plain, settings))
      for (let at = 0; at < row.length;) {
        const run = runAt(row, at, 255 + bias);
        if (run < bias) throw new RangeError(`a run of ${run} cannot be written with a bias of ${bias}`);
        const [count, byte] = [run - bias, row[at]!];
        for (const value of isCountFirst ? [count, byte] : [byte, count]) out.push(value);
        at += run;
      }
    return out.finish();
  },
};

/** A marked run: the marker byte, a count, a byte. The marker itself is written as a run. */
export const rle: Codec = {
  name: 'rle',
  about: 'run-length with a marker byte before count and byte',
  mostExpansion: 86,
  settings: {
    marker: { about: 'the byte that begins a run', default: 0 },
    minimum: { about: 'added to a count', default: 0 },
  },
  decode(stored, limit, _primitives, settings) {
    const marker = numberSetting(settings, 'marker');
    const least = numberSetting(settings, 'minimum');
    const out = new GrowingBytes(limit);
    for (let at = 0; at < stored.length;) {
      const byte = stored[at++]!;
      if (byte !== marker) {
        out.push(byte);
        continue;
      }
      if (at + 2 > stored.length) throw new RangeError('a run ends too early');
      const count = stored[at]! + least;
      out.reserve(count);
      for (let i = 0; i < count; i++) out.push(stored[at + 1]!);
      at += 2;
    }
    return out.finish();
  },
  encode(plain, _primitives, settings) {
    const marker = numberSetting(settings, 'marker');
    const least = numberSetting(settings, 'minimum');
    const out = new GrowingBytes(3 * plain.length + 3);
    for (let at = 0; at < plain.length;) {
      const run = runAt(plain, at, 255 + least);
      const byte = plain[at]!;
      if (run >= least && (run > 3 || byte === marker)) {
        out.push(marker);
        out.push(run - least);
        out.push(byte);
        at += run;
      } else if (byte !== marker) {
        out.push(byte);
        at++;
      } else throw new RangeError(`a marker byte alone cannot be written with a minimum of ${least}`);
    }
    return out.finish();
  },
};

function runAt(plain: Uint8Array, at: number, most: number): number {
  let length = 1;
  while (length < most && plain[at + length] === plain[at] && at + length < plain.length) length++;
  return length;
}
