/**
 * The model that LZMA coder and decoder share: probabilities and how they are found. After the LZMA
 * specification (I. Pavlov, public domain).
 */
export const HALF = 1024;
const MOST_POSITION_STATES = 16;

const fresh = (length: number): Uint16Array => new Uint16Array(length).fill(HALF);

/** Lengths of matches: 2 to 9, 10 to 17, 18 to 273. */
export interface LengthModel {
  readonly choice: Uint16Array;
  readonly low: Uint16Array;
  readonly middle: Uint16Array;
  readonly high: Uint16Array;
}

const lengthModel = (): LengthModel => ({
  choice: fresh(2),
  low: fresh(MOST_POSITION_STATES << 3),
  middle: fresh(MOST_POSITION_STATES << 3),
  high: fresh(256),
});

export interface LzmaProperties {
  /** Bits of the byte before, and of the position, that choose how a literal is coded. */
  readonly literalContext: number;
  readonly literalPosition: number;
  /** Bits of the position that choose how all else is coded. */
  readonly position: number;
}

/** Every probability of a stream, begun anew. */
export class LzmaModel {
  readonly isMatch = fresh(12 << 4);
  readonly isRepeat = fresh(12);
  readonly isRepeat0 = fresh(12);
  readonly isRepeat1 = fresh(12);
  readonly isRepeat2 = fresh(12);
  readonly isLongRepeat = fresh(12 << 4);
  readonly slots = fresh(4 << 6);
  readonly special = fresh(115);
  readonly align = fresh(16);
  readonly lengths = lengthModel();
  readonly repeatLengths = lengthModel();
  readonly literals: Uint16Array;
  readonly distances = [0, 0, 0, 0];
  state = 0;

  constructor(readonly properties: LzmaProperties) {
    this.literals = fresh(0x300 << (properties.literalContext + properties.literalPosition));
  }

  literalAt(place: number, before: number): number {
    const { literalContext, literalPosition } = this.properties;
    return (
      0x300 * (((place & ((1 << literalPosition) - 1)) << literalContext) + (before >> (8 - literalContext)))
    );
  }
}

export const afterLiteral = (state: number): number => (state < 4 ? 0 : state < 10 ? state - 3 : state - 6);
export const afterMatch = (state: number): number => (state < 7 ? 7 : 10);
export const afterRepeat = (state: number): number => (state < 7 ? 8 : 11);
export const afterShortRepeat = (state: number): number => (state < 7 ? 9 : 11);

/** The one byte that stands for the three numbers. Throws RangeError. */
export function propertiesOf(byte: number): LzmaProperties {
  if (byte >= 225) throw new RangeError(`no LZMA properties: ${byte}`);
  return {
    literalContext: byte % 9,
    literalPosition: Math.floor(byte / 9) % 5,
    position: Math.floor(byte / 45),
  };
}

export const byteOf = ({ literalContext, literalPosition, position }: LzmaProperties): number =>
  (position * 5 + literalPosition) * 9 + literalContext;
