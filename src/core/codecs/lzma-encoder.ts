import { GrowingBytes } from './growing-bytes';
import {
  afterLiteral,
  afterMatch,
  afterRepeat,
  afterShortRepeat,
  LzmaModel,
  type LengthModel,
  type LzmaProperties,
} from './lzma-model';
import { MatchFinder } from './match-finder';

const LONGEST = 273;
/** Where a match is this long, a better one is not looked for. */
const LONG_ENOUGH = 64;

/** Writes bits by their probability: a carry-less range coder that keeps one byte back for the carry. */
class RangeEncoder {
  private low = 0;
  private range = 0xffffffff;
  private cache = 0;
  private waiting = 1;

  constructor(private readonly out: GrowingBytes) {}

  bit(model: Uint16Array, index: number, bit: number): void {
    const probability = model[index]!;
    const bound = (this.range >>> 11) * probability;
    if (bit) {
      this.low += bound;
      this.range -= bound;
      model[index] = probability - (probability >> 5);
    } else {
      this.range = bound;
      model[index] = probability + ((2048 - probability) >> 5);
    }
    if (this.range < 0x1000000) this.shift();
  }

  direct(value: number, count: number): void {
    for (let i = count - 1; i >= 0; i--) {
      this.range >>>= 1;
      if ((value >>> i) & 1) this.low += this.range;
      if (this.range < 0x1000000) this.shift();
    }
  }

  finish(): void {
    this.range = 0;
    for (let i = 0; i < 5; i++) this.shift();
  }

  private shift(): void {
    this.range = (this.range << 8) >>> 0;
    if (this.low < 0xff000000 || this.low > 0xffffffff) {
      const carry = this.low > 0xffffffff ? 1 : 0;
      for (; this.waiting > 0; this.waiting--) {
        this.out.push((this.cache + carry) & 0xff);
        this.cache = 0xff;
      }
      this.cache = Math.floor(this.low / 0x1000000) & 0xff;
    }
    this.waiting++;
    this.low = (this.low % 0x1000000) * 256;
  }
}

/**
 * Puts bytes together as an LZMA stream: at each place the longest match, or the one of a distance used before
 * where that is nearly as long, looking one byte ahead. It chooses faster than the usual encoder and gives files
 * a few percent larger.
 */
export function encodeLzma(
  plain: Uint8Array,
  properties: LzmaProperties,
  reach: number,
  marksEnd: boolean,
): Uint8Array {
  return encodeLzmaPiece(plain, 0, plain.length, properties, lzmaMatches(plain, reach), marksEnd);
}

/** Matches at most `reach` bytes back. */
export const lzmaMatches = (plain: Uint8Array, reach: number): MatchFinder =>
  new MatchFinder(plain, { longest: LONGEST, steps: 96, reach });

/** The bytes `[from, to)` with all before them as the dictionary, and the model begun anew. */
export function encodeLzmaPiece(
  plain: Uint8Array,
  from: number,
  to: number,
  properties: LzmaProperties,
  finder: MatchFinder,
  marksEnd = false,
): Uint8Array {
  const length = to - from;
  const out = new GrowingBytes(2 * length + 4096, Math.ceil(length / 2) + 4096);
  new LzmaEncoder(plain, to, properties, new RangeEncoder(out), finder).run(from, marksEnd);
  return out.finish();
}

class LzmaEncoder {
  private readonly model: LzmaModel;

  constructor(
    private readonly plain: Uint8Array,
    private readonly end: number,
    properties: LzmaProperties,
    private readonly coder: RangeEncoder,
    private readonly finder: MatchFinder,
  ) {
    this.model = new LzmaModel(properties);
  }

  run(from: number, marksEnd: boolean): void {
    for (let at = from; at < this.end;) {
      const repeat = this.longestRepeat(at);
      const match = this.matchAt(at);
      if (repeat.length >= 2 && repeat.length + 1 >= match.length) {
        this.repeat(at, repeat.which, repeat.length);
        at += repeat.length;
      } else if (match.length >= 3 && !this.isBetterLater(at, match.length)) {
        this.match(at, match.distance - 1, match.length);
        at += match.length;
      } else {
        if (this.isShortRepeat(at)) this.shortRepeat(at);
        else this.literal(at);
        at++;
      }
    }
    if (marksEnd) this.match(this.end, 0xffffffff, 2);
    this.coder.finish();
  }

  private matchAt(at: number): { distance: number; length: number } {
    const { distance, length: found } = this.finder.at(at);
    const length = Math.min(found, this.end - at);
    // A short match from far away takes more bits than the bytes themselves.
    const pays = length > 4 || (length === 4 ? distance < 1 << 16 : distance < 1 << 11);
    return pays ? { distance, length } : { distance: 0, length: 0 };
  }

  private isBetterLater(at: number, length: number): boolean {
    if (length >= LONG_ENOUGH || at + 1 >= this.end) return false;
    return this.matchAt(at + 1).length > length || this.longestRepeat(at + 1).length >= length;
  }

  private longestRepeat(at: number): { which: number; length: number } {
    const { plain } = this;
    let best = { which: 0, length: 0 };
    this.model.distances.forEach((distance, which) => {
      const from = at - distance - 1;
      if (from < 0) return;
      const most = Math.min(LONGEST, this.end - at);
      let length = 0;
      while (length < most && plain[from + length] === plain[at + length]) length++;
      if (length > best.length) best = { which, length };
    });
    return best;
  }

  private positionState(at: number): number {
    return at & ((1 << this.model.properties.position) - 1);
  }

  private isShortRepeat(at: number): boolean {
    const from = at - this.model.distances[0]! - 1;
    return from >= 0 && this.plain[from] === this.plain[at];
  }

  private literal(at: number): void {
    const { model, plain, coder } = this;
    coder.bit(model.isMatch, (model.state << 4) + this.positionState(at), 0);
    const base = model.literalAt(at, at > 0 ? plain[at - 1]! : 0);
    const byte = plain[at]!;
    let node = 1;
    let bits = 8;
    if (model.state >= 7) {
      let match = plain[at - model.distances[0]! - 1]!;
      for (; bits > 0;) {
        bits--;
        const wanted = match >> 7;
        match = (match << 1) & 0xff;
        const bit = (byte >> bits) & 1;
        coder.bit(model.literals, base + ((1 + wanted) << 8) + node, bit);
        node = (node << 1) | bit;
        if (bit !== wanted) break;
      }
    }
    while (bits > 0) {
      bits--;
      const bit = (byte >> bits) & 1;
      coder.bit(model.literals, base + node, bit);
      node = (node << 1) | bit;
    }
    model.state = afterLiteral(model.state);
  }

  private match(at: number, distance: number, length: number): void {
    const { model, coder } = this;
    const positionState = this.positionState(at);
    coder.bit(model.isMatch, (model.state << 4) + positionState, 1);
    coder.bit(model.isRepeat, model.state, 0);
    this.length(model.lengths, positionState, length);
    this.distance(distance, length);
    model.distances.pop();
    model.distances.unshift(distance);
    model.state = afterMatch(model.state);
  }

  private repeat(at: number, which: number, length: number): void {
    const { model, coder } = this;
    const { state } = model;
    const positionState = this.positionState(at);
    coder.bit(model.isMatch, (state << 4) + positionState, 1);
    coder.bit(model.isRepeat, state, 1);
    coder.bit(model.isRepeat0, state, which === 0 ? 0 : 1);
    if (which === 0) coder.bit(model.isLongRepeat, (state << 4) + positionState, 1);
    else {
      coder.bit(model.isRepeat1, state, which === 1 ? 0 : 1);
      if (which > 1) coder.bit(model.isRepeat2, state, which - 2);
      const [distance] = model.distances.splice(which, 1);
      model.distances.unshift(distance!);
    }
    this.length(model.repeatLengths, positionState, length);
    model.state = afterRepeat(state);
  }

  private shortRepeat(at: number): void {
    const { model, coder } = this;
    const { state } = model;
    const positionState = this.positionState(at);
    coder.bit(model.isMatch, (state << 4) + positionState, 1);
    coder.bit(model.isRepeat, state, 1);
    coder.bit(model.isRepeat0, state, 0);
    coder.bit(model.isLongRepeat, (state << 4) + positionState, 0);
    model.state = afterShortRepeat(state);
  }

  private length(model: LengthModel, positionState: number, length: number): void {
    const { coder } = this;
    coder.bit(model.choice, 0, length < 10 ? 0 : 1);
    if (length < 10) return this.tree(model.low, positionState << 3, 3, length - 2);
    coder.bit(model.choice, 1, length < 18 ? 0 : 1);
    if (length < 18) return this.tree(model.middle, positionState << 3, 3, length - 10);
    this.tree(model.high, 0, 8, length - 18);
  }

  private distance(distance: number, length: number): void {
    const { model } = this;
    const slot = slotOf(distance);
    this.tree(model.slots, Math.min(length - 2, 3) << 6, 6, slot);
    if (slot < 4) return;
    const bits = (slot >> 1) - 1;
    const base = ((2 | (slot & 1)) << bits) >>> 0;
    const rest = distance - base;
    if (slot < 14) return this.reversed(model.special, base - slot, bits, rest);
    this.coder.direct(Math.floor(rest / 16), bits - 4);
    this.reversed(model.align, 0, 4, rest & 15);
  }

  private tree(model: Uint16Array, from: number, bits: number, value: number): void {
    let node = 1;
    for (let i = bits - 1; i >= 0; i--) {
      const bit = (value >> i) & 1;
      this.coder.bit(model, from + node, bit);
      node = (node << 1) | bit;
    }
  }

  private reversed(model: Uint16Array, from: number, bits: number, value: number): void {
    let node = 1;
    for (let i = 0; i < bits; i++) {
      const bit = (value >> i) & 1;
      this.coder.bit(model, from + node, bit);
      node = (node << 1) | bit;
    }
  }
}

/** Two bits of a distance and its length in bits. */
function slotOf(distance: number): number {
  if (distance < 4) return distance;
  const highest = 31 - Math.clz32(distance);
  return 2 * highest + ((distance >>> (highest - 1)) & 1);
}
