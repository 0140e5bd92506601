/** Below this many rows, insertion is quicker than partition. */
const FEW = 12;
const CHUNK = 4;

/** Pieces of a text: where each begins and ends. */
export interface Pieces {
  readonly lines: Uint8Array;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
}

/**
 * Rows in the order of their bytes, equal ones as they stood: multikey quicksort (Bentley and Sedgewick, "Fast Algorithms
 * for Sorting and Searching Strings", 1997) over four bytes at a time, which are kept beside the rows. `map` has 256 bytes,
 * what each byte counts as. No piece has a byte 0 in it.
 */
export function sortedRows({ lines, starts, ends }: Pieces, map?: Uint8Array): Uint32Array {
  const count = starts.length;
  const order = Uint32Array.from({ length: count }, (_, row) => row);
  const keys = new Uint32Array(count);

  const keyAt = (row: number, depth: number): number => {
    const end = ends[row]!;
    let at = starts[row]! + depth;
    let key = 0;
    for (let i = 0; i < CHUNK; i++, at++) {
      const byte = at < end ? lines[at]! : 0;
      key = (key << 8) | (map ? map[byte]! : byte);
    }
    return key >>> 0;
  };
  const swap = (i: number, j: number): void => {
    const row = order[i]!;
    order[i] = order[j]!;
    order[j] = row;
    const key = keys[i]!;
    keys[i] = keys[j]!;
    keys[j] = key;
  };
  const compare = (a: number, b: number, depth: number): number => {
    let atA = starts[a]! + depth;
    let atB = starts[b]! + depth;
    const endA = ends[a]!;
    const endB = ends[b]!;
    for (; atA < endA && atB < endB; atA++, atB++) {
      const left = lines[atA]!;
      const right = lines[atB]!;
      if (left === right) continue;
      const difference = map ? map[left]! - map[right]! : left - right;
      if (difference !== 0) return difference;
    }
    return endA - atA - (endB - atB) || a - b;
  };
  const insert = (low: number, high: number, depth: number): void => {
    for (let i = low + 1; i < high; i++) {
      const row = order[i]!;
      let j = i;
      for (; j > low && compare(order[j - 1]!, row, depth) > 0; j--) order[j] = order[j - 1]!;
      order[j] = row;
    }
  };

  // Ranges still to be sorted: first, behind last, depth, and whether the keys are of that depth.
  const open = [0, count, 0, 0];
  while (open.length > 0) {
    const isKeyed = open.pop() === 1;
    const depth = open.pop()!;
    const high = open.pop()!;
    const low = open.pop()!;
    if (high - low < 2) continue;
    if (high - low <= FEW) {
      insert(low, high, depth);
      continue;
    }
    if (!isKeyed) for (let i = low; i < high; i++) keys[i] = keyAt(order[i]!, depth);
    const pivot = middleOf(keys[low]!, keys[(low + high) >>> 1]!, keys[high - 1]!);
    let [below, at, above] = [low, low, high];
    while (at < above) {
      const key = keys[at]!;
      if (key < pivot) swap(below++, at++);
      else if (key > pivot) swap(at, --above);
      else at++;
    }
    open.push(low, below, depth, 1, above, high, depth, 1);
    // A key that ends in 0 is that of pieces that end here: they are equal, and go by their number.
    if ((pivot & 0xff) === 0) order.subarray(below, above).sort();
    else open.push(below, above, depth + CHUNK, 0);
  }
  return order;
}

const middleOf = (a: number, b: number, c: number): number =>
  a < b ? (b < c ? b : a < c ? c : a) : a < c ? a : b < c ? c : b;
