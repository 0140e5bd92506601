import { FormatError } from '../bytes';
import { fnvOfLines } from '../hashes';
import type { Primitives } from '../primitives';
import type { NameHashing } from '../script';
import type { Names } from './name-list';
import { hashOfPath } from './names';

const SPARE = 2;
const GOLDEN = 0x9e3779b1;
const NOT_ASCII = /[^\0-\x7f]/;

/** Encodings that spell ASCII as it is. */
const PLAIN_ENCODINGS = new Set(['ascii', 'utf-8', 'latin1', 'windows-1252']);

/**
 * Paths by their hash: twelve bytes a name and no object, so that a list of a million serves every archive. Of two
 * names with one hash the first counts.
 */
export class NameHashes {
  /** Low and high halves in turn. */
  private readonly halves: Uint32Array;
  /** Numbers of names, from 1, by their hash; 0 where there is none. */
  private readonly slots: Int32Array;
  private readonly mask: number;

  /** `strict` refuses names that the encoding cannot spell; otherwise they are none of this archive. */
  constructor(
    private readonly names: Names,
    hashing: NameHashing,
    primitives: Primitives,
    seed: bigint | undefined,
    strict: boolean,
  ) {
    const skipped = new Set<number>();
    this.halves = halvesOf(names, hashing, primitives, seed, strict ? undefined : skipped);
    let size = 8;
    while (size < SPARE * names.length) size *= 2;
    this.mask = size - 1;
    this.slots = new Int32Array(size);
    for (let i = 0; i < names.length; i++) {
      if (skipped.has(i)) continue;
      const at = this.slotOf(this.halves[2 * i]!, this.halves[2 * i + 1]!);
      if (this.slots[at] === 0) this.slots[at] = i + 1;
    }
  }

  /** The name with this hash, given as 16 hexadecimal digits. */
  get(hash: string): string | undefined {
    const low = Number.parseInt(hash.slice(8), 16);
    const high = Number.parseInt(hash.slice(0, 8), 16);
    const found = this.slots[this.slotOf(low, high)]!;
    return found > 0 ? this.names.at(found - 1) : undefined;
  }

  /** Where a hash is, or the free slot where it would be. */
  private slotOf(low: number, high: number): number {
    const { halves, slots, mask } = this;
    let at = (Math.imul(low ^ (high >>> 7), GOLDEN) >>> 8) & mask;
    for (;;) {
      const one = slots[at]!;
      if (one === 0 || (halves[2 * one - 2] === low && halves[2 * one - 1] === high)) return at;
      at = (at + 1) & mask;
    }
  }
}

/** Hashes of all names, those by the kernel that it can do. */
export function halvesOf(
  names: Names,
  hashing: NameHashing,
  primitives: Primitives,
  seed?: bigint,
  skipped?: Set<number>,
): Uint32Array {
  const { lines, isAscii } = byKernel(hashing) ? joinedLines(names) : NO_LINES;
  const halves = lines && byLines(lines, names.length, byteMap(hashing));
  const out = halves ?? new Uint32Array(2 * names.length);
  if (halves && isAscii) return out;
  for (let i = 0; i < names.length; i++) {
    const name = names.at(i)!;
    if (halves && !NOT_ASCII.test(name)) continue;
    try {
      const hash = hashOfPath(name, hashing, primitives, seed);
      out[2 * i] = Number.parseInt(hash.slice(8), 16);
      out[2 * i + 1] = Number.parseInt(hash.slice(0, 8), 16);
    } catch (error) {
      if (!skipped || !(error instanceof FormatError)) throw error;
      skipped.add(i);
    }
  }
  return out;
}

const NO_LINES: Pick<Names, 'lines' | 'isAscii'> = {};

function joinedLines(names: Names): Pick<Names, 'lines' | 'isAscii'> {
  if (names.lines) return names;
  const joined = (names as readonly string[]).join('\n');
  const lines = new TextEncoder().encode(joined);
  // As many bytes as characters: nothing but ASCII.
  return { lines, isAscii: lines.length === joined.length };
}

const byKernel = ({
  hash,
  seed,
  extension,
  before,
  behind,
  half,
  bits,
  encoding,
  separator,
}: NameHashing): boolean =>
  hash === 'fnv1a64' &&
  !seed &&
  extension === 'kept' &&
  before === '' &&
  behind === '' &&
  half === undefined &&
  bits === 64 &&
  separator.length === 1 &&
  !NOT_ASCII.test(separator) &&
  PLAIN_ENCODINGS.has(encoding);

/** Undefined where a name has a line end in it, as only a hostile archive's has. */
function byLines(lines: Uint8Array, count: number, map: Uint8Array): Uint32Array | undefined {
  try {
    return fnvOfLines(lines, count, map);
  } catch (error) {
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

function byteMap({ spelling, separator }: NameHashing): Uint8Array {
  return Uint8Array.from({ length: 256 }, (_, byte) => {
    const sign = String.fromCharCode(byte);
    if (byte > 127) return byte;
    if (sign === '/') return separator.charCodeAt(0);
    const spelled =
      spelling === 'lower' ? sign.toLowerCase() : spelling === 'upper' ? sign.toUpperCase() : sign;
    return spelled.charCodeAt(0);
  });
}

const cache = new WeakMap<Names, Map<string, NameHashes>>();

/** The index of a list for one way of hashing, made once for all archives that are given the same list. */
export function sharedNameHashes(
  names: Names,
  hashing: NameHashing,
  primitives: Primitives,
  seed: bigint | undefined,
): NameHashes {
  let known = cache.get(names);
  if (!known) cache.set(names, (known = new Map<string, NameHashes>()));
  // What the seed comes out as counts, not the expression.
  const how = JSON.stringify([{ ...hashing, seed: seed?.toString() }]);
  let found = known.get(how);
  if (!found) known.set(how, (found = new NameHashes(names, hashing, primitives, seed, false)));
  return found;
}
