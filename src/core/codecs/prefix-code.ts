/**
 * Lengths of a prefix code for symbols of these weights, none longer than `longest` (Huffman 1952; weights are
 * flattened until the code is short enough). Every symbol gets a code.
 */
export function codeLengths(weights: readonly number[], longest: number): number[] {
  for (let flat = [...weights]; ; flat = flat.map((weight) => 1 + (weight >> 1))) {
    const lengths = huffman(flat);
    if (Math.max(...lengths) <= longest) return lengths;
  }
}

function huffman(weights: readonly number[]): number[] {
  const count = weights.length;
  if (count === 1) return [1];
  const above = new Int32Array(2 * count - 1).fill(-1);
  const all = new Float64Array(2 * count - 1);
  all.set(weights);
  // Leaves in rising order and inner nodes, which are made in rising order, are two queues.
  const leaves = Array.from({ length: count }, (_, i) => i).sort((a, b) => weights[a]! - weights[b]!);
  let leaf = 0;
  let inner = count;
  const lightest = (made: number): number => {
    const fromLeaves = leaf < count && (inner >= made || all[leaves[leaf]!]! <= all[inner]!);
    return fromLeaves ? leaves[leaf++]! : inner++;
  };
  for (let made = count; made < all.length; made++) {
    const a = lightest(made);
    const b = lightest(made);
    all[made] = all[a]! + all[b]!;
    above[a] = made;
    above[b] = made;
  }
  const depths = new Int32Array(all.length);
  for (let i = all.length - 2; i >= 0; i--) depths[i] = depths[above[i]!]! + 1;
  return [...depths.subarray(0, count)];
}
