import { numberSetting } from '../settings';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';

const MOST_RUN = 128;

/** Runs and literals told apart by a signed count byte, as in TIFF 6.0, section 9. */
export const packbits: Codec = {
  name: 'packbits',
  about: 'run-length with a signed count before each run or stretch (PackBits, TIFF 6.0)',
  mostExpansion: 64,
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
  encode(plain) {
    const out = new GrowingBytes(plain.length + Math.ceil(plain.length / MOST_RUN) + 2);
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
