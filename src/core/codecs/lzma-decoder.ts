import type { GrowingBytes } from './growing-bytes';
import {
  afterLiteral,
  afterMatch,
  afterRepeat,
  afterShortRepeat,
  LzmaModel,
  type LengthModel,
  type LzmaProperties,
} from './lzma-model';

/** Takes an LZMA stream apart; what came out so far is its dictionary. */
export class LzmaDecoder {
  private model: LzmaModel;
  private range = 0;
  private code = 0;
  private at = 0;
  private end = 0;
  /** Where the dictionary begins: nothing before it may be asked for, and places count from there. */
  private base: number;

  constructor(
    private readonly stored: Uint8Array,
    private readonly out: GrowingBytes,
    properties: LzmaProperties,
  ) {
    this.model = new LzmaModel(properties);
    this.base = out.length;
  }

  /** Begins all probabilities anew, as LZMA2 does between chunks. */
  reset(properties = this.model.properties): void {
    this.model = new LzmaModel(properties);
  }

  /** Begins a new dictionary. */
  forget(): void {
    this.base = this.out.length;
  }

  /**
   * Decodes from `from` on, until `wanted` bytes have come out in all or the stream says that it ends, and gives
   * the place behind. Throws RangeError where it is broken or goes beyond `end`.
   */
  decode(from: number, end: number, wanted: number): number {
    this.at = from;
    this.end = end;
    if (this.next() !== 0) throw new RangeError('an LZMA stream begins with a zero');
    this.range = 0xffffffff;
    this.code = 0;
    for (let i = 0; i < 4; i++) this.code = ((this.code << 8) | this.next()) >>> 0;
    while (this.out.length < wanted) if (!this.symbol(wanted)) break;
    return this.at;
  }

  private next(): number {
    if (this.at >= this.end) throw new RangeError('the LZMA stream ends too early');
    return this.stored[this.at++]!;
  }

  private bit(model: Uint16Array, index: number): number {
    const probability = model[index]!;
    const bound = (this.range >>> 11) * probability;
    let bit = 0;
    if (this.code < bound) {
      this.range = bound;
      model[index] = probability + ((2048 - probability) >> 5);
    } else {
      this.range -= bound;
      this.code -= bound;
      model[index] = probability - (probability >> 5);
      bit = 1;
    }
    if (this.range < 0x1000000) {
      this.range = (this.range << 8) >>> 0;
      this.code = ((this.code << 8) | this.next()) >>> 0;
    }
    return bit;
  }

  private direct(count: number): number {
    let value = 0;
    for (let i = 0; i < count; i++) {
      this.range >>>= 1;
      const bit = this.code >= this.range ? 1 : 0;
      if (bit) this.code -= this.range;
      value = value * 2 + bit;
      if (this.range < 0x1000000) {
        this.range = (this.range << 8) >>> 0;
        this.code = ((this.code << 8) | this.next()) >>> 0;
      }
    }
    return value;
  }

  private tree(model: Uint16Array, from: number, bits: number): number {
    let node = 1;
    for (let i = 0; i < bits; i++) node = (node << 1) | this.bit(model, from + node);
    return node - (1 << bits);
  }

  private reversed(model: Uint16Array, from: number, bits: number): number {
    let node = 1;
    let value = 0;
    for (let i = 0; i < bits; i++) {
      const bit = this.bit(model, from + node);
      node = (node << 1) | bit;
      value |= bit << i;
    }
    return value;
  }

  /** False at the mark of the end. */
  private symbol(wanted: number): boolean {
    const { model, out } = this;
    const positionState = (out.length - this.base) & ((1 << model.properties.position) - 1);
    const { state } = model;
    if (!this.bit(model.isMatch, (state << 4) + positionState)) {
      this.literal();
      return true;
    }
    let length: number;
    if (!this.bit(model.isRepeat, state)) {
      model.distances.pop();
      length = this.length(model.lengths, positionState);
      model.state = afterMatch(state);
      const distance = this.distance(length);
      if (distance === 0xffffffff) {
        model.distances.push(0);
        return false;
      }
      model.distances.unshift(distance);
    } else {
      if (out.length === this.base) throw new RangeError('a repeat where nothing came out yet');
      if (!this.bit(model.isRepeat0, state)) {
        if (!this.bit(model.isLongRepeat, (state << 4) + positionState)) {
          model.state = afterShortRepeat(state);
          out.repeat(model.distances[0]! + 1, 1);
          return true;
        }
      } else {
        const which = !this.bit(model.isRepeat1, state) ? 1 : 2 + this.bit(model.isRepeat2, state);
        const [distance] = model.distances.splice(which, 1);
        model.distances.unshift(distance!);
      }
      length = this.length(model.repeatLengths, positionState);
      model.state = afterRepeat(state);
    }
    if (out.length + length > wanted) throw new RangeError(`a match goes beyond ${wanted} bytes`);
    out.repeat(model.distances[0]! + 1, length);
    return true;
  }

  private literal(): void {
    const { model, out } = this;
    const place = out.length - this.base;
    const base = model.literalAt(place, place > 0 ? out.bytes[out.length - 1]! : 0);
    let node = 1;
    if (model.state >= 7) {
      const back = model.distances[0]! + 1;
      if (back > place) throw new RangeError('a match reaches before the beginning');
      let match = out.bytes[out.length - back]!;
      while (node < 0x100) {
        const wantedBit = match >> 7;
        match = (match << 1) & 0xff;
        const bit = this.bit(model.literals, base + ((1 + wantedBit) << 8) + node);
        node = (node << 1) | bit;
        if (bit !== wantedBit) break;
      }
    }
    while (node < 0x100) node = (node << 1) | this.bit(model.literals, base + node);
    out.push(node & 0xff);
    model.state = afterLiteral(model.state);
  }

  private length(model: LengthModel, positionState: number): number {
    if (!this.bit(model.choice, 0)) return 2 + this.tree(model.low, positionState << 3, 3);
    if (!this.bit(model.choice, 1)) return 10 + this.tree(model.middle, positionState << 3, 3);
    return 18 + this.tree(model.high, 0, 8);
  }

  private distance(length: number): number {
    const { model } = this;
    const slot = this.tree(model.slots, Math.min(length - 2, 3) << 6, 6);
    if (slot < 4) return slot;
    const bits = (slot >> 1) - 1;
    const base = ((2 | (slot & 1)) << bits) >>> 0;
    if (slot < 14) return base + this.reversed(model.special, base - slot, bits);
    return base + this.direct(bits - 4) * 16 + this.reversed(model.align, 0, 4);
  }
}
