import { numberSetting, wordSetting, type Settings } from '../settings';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';
import { LzmaDecoder } from './lzma-decoder';
import { encodeLzma } from './lzma-encoder';
import { byteOf, propertiesOf, type LzmaProperties } from './lzma-model';

const given = (settings: Settings): LzmaProperties => ({
  literalContext: numberSetting(settings, 'lc'),
  literalPosition: numberSetting(settings, 'lp'),
  position: numberSetting(settings, 'pb'),
});

/** How far matches of the usual tools reach. */
const REACH = 1 << 23;

/** Bytes of the head in each of the ways in which streams are kept. */
const HEADS: Readonly<Record<string, number>> = { alone: 13, properties: 5, none: 0 };

/** LZMA with the head of `.lzma` files, with the five bytes of properties alone, or bare. */
export const lzma: Codec = {
  name: 'lzma',
  about: 'LZMA (I. Pavlov), as in .lzma files or without their head',
  // A run goes on for 273 bytes in a few hundredths of a byte.
  mostExpansion: 1 << 15,
  settings: {
    head: {
      about: 'alone: properties, dictionary and size as in .lzma; properties: without the size; none',
      default: 'alone',
      words: Object.keys(HEADS),
    },
    lc: { about: 'bits of the byte before that a literal depends on', default: 3 },
    lp: { about: 'bits of the position that a literal depends on', default: 0 },
    pb: { about: 'bits of the position that all else depends on', default: 2 },
    dictionary: { about: 'how far back a match may reach, written into the head', default: REACH },
    marker: { about: 'whether a mark stands at the end', default: 'no', words: ['no', 'yes'] },
  },
  decode(stored, limit, _primitives, settings) {
    const head = HEADS[wordSetting(settings, 'head')]!;
    if (stored.length < head + 5) throw new RangeError('the LZMA stream ends too early');
    const properties = head > 0 ? propertiesOf(stored[0]!) : given(settings);
    let wanted = limit;
    if (head === 13) {
      const view = new DataView(stored.buffer, stored.byteOffset, stored.byteLength);
      const size = view.getBigUint64(5, true);
      if (size !== 0xffffffffffffffffn) {
        if (size > BigInt(limit)) throw new RangeError(`${size} bytes come out where ${limit} may`);
        wanted = Number(size);
      }
    }
    const out = new GrowingBytes(limit);
    new LzmaDecoder(stored, out, properties).decode(head, stored.length, wanted);
    return out.finish();
  },
  encode(plain, _primitives, settings) {
    const head = HEADS[wordSetting(settings, 'head')]!;
    const properties = given(settings);
    const stream = encodeLzma(
      plain,
      properties,
      Math.max(1, numberSetting(settings, 'dictionary')),
      wordSetting(settings, 'marker') === 'yes',
    );
    const out = new Uint8Array(head + stream.length);
    const view = new DataView(out.buffer);
    if (head > 0) {
      out[0] = byteOf(properties);
      view.setUint32(1, numberSetting(settings, 'dictionary'), true);
    }
    if (head === 13) view.setBigUint64(5, BigInt(plain.length), true);
    out.set(stream, head);
    return out;
  },
};
