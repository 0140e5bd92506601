import type { Primitives } from '../primitives';
import type { Settings, SettingTypes } from '../settings';

/** A compression over a piece that is held whole; long data is cut into blocks by the script. */
export interface Codec {
  readonly name: string;
  readonly about: string;
  /** The most plain bytes that one stored byte can stand for; guards against claims that cannot be. */
  readonly mostExpansion: number;
  /** Throws a plain Error or RangeError when the bytes are broken or longer than `limit`. */
  decode(stored: Uint8Array, limit: number, primitives: Primitives, settings: Settings): Uint8Array;
  encode(plain: Uint8Array, primitives: Primitives, settings: Settings): Uint8Array;
  /** As much as the beginning of a piece gives, for a look at what it is. */
  start?(stored: Uint8Array, primitives: Primitives): Uint8Array;
  /** What a script may or must say of it besides the size. */
  readonly settings?: SettingTypes;
  /** Throws FormatError `bad-value` where settings do not go together. */
  check?(settings: Settings): void;
}
