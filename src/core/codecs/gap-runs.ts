import { FormatError } from '../bytes';
import { numberSetting, wordSetting, type Settings } from '../settings';
import type { Codec } from './codec';
import { GrowingBytes } from './growing-bytes';
import { requirePatience } from './patience';

/** A picture of more texels is no single one of this sort. */
const MOST_TEXELS = 1 << 26;
const MOST_RUN = 255;

interface GapSettings {
  readonly lines: number;
  readonly length: number;
  /** Texels from one of a line to the next, and from one line to the next. */
  readonly along: number;
  readonly across: number;
  readonly offsetBytes: 0 | 2 | 4;
  readonly isBig: boolean;
  readonly from: number;
  readonly isAbsolute: boolean;
  readonly end: number;
  readonly pad: number;
}

function read(settings: Settings): GapSettings {
  const [width, height] = [numberSetting(settings, 'width'), numberSetting(settings, 'height')];
  const byColumns = wordSetting(settings, 'by') === 'columns';
  const table = wordSetting(settings, 'table');
  return {
    lines: byColumns ? width : height,
    length: byColumns ? height : width,
    along: byColumns ? width : 1,
    across: byColumns ? 1 : width,
    offsetBytes: table === 'none' ? 0 : table === 'u16' ? 2 : 4,
    isBig: wordSetting(settings, 'order') === 'big',
    from: numberSetting(settings, 'from'),
    isAbsolute: wordSetting(settings, 'skip') === 'absolute',
    end: numberSetting(settings, 'end'),
    pad: numberSetting(settings, 'pad'),
  };
}

/**
 * Rows or columns of single bytes with gaps between runs: a skip, a count, so many bytes, over and over. What comes out has two bytes a
 * texel, rows from the top: the byte, and 255 where it is there or 0 in a gap.
 */
export const gaps: Codec = {
  name: 'gaps',
  about: 'rows or columns in runs with gaps between them; gives two bytes a texel, the second 0 in a gap',
  mostExpansion: 1024,
  settings: {
    width: { about: 'texels of a row', default: undefined },
    height: { about: 'how many rows', default: undefined },
    by: { about: 'what runs lie along', default: 'rows', words: ['rows', 'columns'] },
    table: {
      about: 'where each line begins, before all of them',
      default: 'none',
      words: ['none', 'u16', 'u32'],
    },
    order: { about: 'byte order of that table', default: 'little', words: ['little', 'big'] },
    from: { about: 'added to a place in the table as it is stored', default: 0 },
    skip: {
      about: 'whether a skip counts from the end of the last run or from the beginning of the line',
      default: 'relative',
      words: ['relative', 'absolute'],
    },
    end: { about: 'a skip that ends the line; -1 where a full line ends it', default: -1 },
    pad: { about: 'bytes before and behind those of a run that count for nothing', default: 0 },
  },
  check(settings) {
    const [width, height] = [numberSetting(settings, 'width'), numberSetting(settings, 'height')];
    const [end, pad] = [numberSetting(settings, 'end'), numberSetting(settings, 'pad')];
    const isFine =
      width >= 1 &&
      height >= 1 &&
      width * height <= MOST_TEXELS &&
      end >= -1 &&
      end <= 255 &&
      pad >= 0 &&
      pad <= 8;
    if (!isFine)
      throw new FormatError('bad-value', {
        expected: `1 to ${MOST_TEXELS} texels, an end of -1 to 255, a pad of 0 to 8`,
        actual: `${width} x ${height}, end ${end}, pad ${pad}`,
      });
  },
  decode(stored, limit, _primitives, settings) {
    const how = read(settings);
    const { lines, length, along, across, offsetBytes, end, pad } = how;
    if (2 * lines * length > limit) throw new RangeError(`more than ${limit} bytes come out`);
    const out = new Uint8Array(2 * lines * length);
    const view = new DataView(stored.buffer, stored.byteOffset, stored.length);
    let at = 0;
    const byte = (): number => {
      if (at >= stored.length) throw new RangeError(`a line ends too early, at byte ${at}`);
      return stored[at++]!;
    };
    for (let line = 0; line < lines; line++) {
      if (line % 256 === 0) requirePatience();
      if (offsetBytes > 0) {
        const place = line * offsetBytes;
        if (place + offsetBytes > stored.length) throw new RangeError('the table of lines is cut short');
        at =
          (offsetBytes === 2 ? view.getUint16(place, !how.isBig) : view.getUint32(place, !how.isBig)) -
          how.from;
        if (at < 0) throw new RangeError(`line ${line} begins before the bytes`);
      }
      for (let done = 0; end >= 0 || done < length;) {
        const skip = byte();
        if (skip === end) break;
        const begin = how.isAbsolute ? skip : done + skip;
        const count = byte();
        if (begin + count > length) throw new RangeError(`line ${line} is longer than ${length}`);
        // Lines without an end byte must come forward.
        if (end < 0 && count === 0 && skip === 0) throw new RangeError(`line ${line} stands still`);
        at += pad;
        for (let i = begin; i < begin + count; i++) {
          const to = 2 * (line * across + i * along);
          out[to] = byte();
          out[to + 1] = 255;
        }
        at += pad;
        done = begin + count;
      }
      if (offsetBytes === 0 && at > stored.length)
        throw new RangeError(`a line ends too early, at byte ${at}`);
    }
    return out;
  },
  encode(plain, _primitives, settings) {
    const how = read(settings);
    const { lines, length, offsetBytes } = how;
    if (plain.length !== 2 * lines * length)
      throw new RangeError(`${2 * lines * length} bytes are wanted, ${plain.length} given`);
    const out = new GrowingBytes(lines * (offsetBytes + 1) + plain.length * (4 + how.pad) + 16);
    for (let i = 0; i < lines * offsetBytes; i++) out.push(0);
    const places: number[] = [];
    for (let line = 0; line < lines; line++) {
      places.push(out.length + how.from);
      writeLine(plain, line, how, out);
    }
    const done = out.finish();
    const view = new DataView(done.buffer, done.byteOffset, done.length);
    for (const [line, place] of places.entries()) {
      if (offsetBytes === 2 && place > 0xffff)
        throw new RangeError(`line ${line} lies beyond what two bytes can say`);
      if (offsetBytes === 2) view.setUint16(2 * line, place, !how.isBig);
      if (offsetBytes === 4) view.setUint32(4 * line, place, !how.isBig);
    }
    return done;
  },
};

function writeLine(plain: Uint8Array, line: number, how: GapSettings, out: GrowingBytes): void {
  const { length, along, across, end, pad, isAbsolute } = how;
  const at = (i: number): number => 2 * (line * across + i * along);
  const isThere = (i: number): boolean => plain[at(i) + 1]! > 0;
  const mostSkip = end === 255 ? 254 : 255;
  let done = 0;
  const put = (begin: number, count: number): void => {
    let skip = isAbsolute ? begin : begin - done;
    while (!isAbsolute && skip > mostSkip) {
      for (const value of [mostSkip, 0, ...padding(0)]) out.push(value);
      skip -= mostSkip;
    }
    if (skip > mostSkip || (skip === end && end >= 0))
      throw new RangeError(`a run ${skip} texels into line ${line} cannot be written`);
    out.push(skip);
    out.push(count);
    for (let i = 0; i < pad; i++) out.push(count > 0 ? plain[at(begin)]! : 0);
    for (let i = begin; i < begin + count; i++) out.push(plain[at(i)]!);
    for (let i = 0; i < pad; i++) out.push(count > 0 ? plain[at(begin + count - 1)]! : 0);
    done = begin + count;
  };
  const padding = (value: number): number[] => Array.from({ length: 2 * pad }, () => value);
  for (let i = 0; i < length;) {
    if (!isThere(i)) {
      i++;
      continue;
    }
    let count = 1;
    while (i + count < length && count < MOST_RUN && isThere(i + count)) count++;
    put(i, count);
    i += count;
  }
  if (end >= 0) out.push(end);
  // Without an end byte the line is filled up with a gap.
  else if (done < length) put(length, 0);
}
