import { halvesOf, NameList, NameHashes } from '../src/core/archive';
import { fnvOfLines } from '../src/core/hashes';
import type { NameHashing } from '../src/core/script';
import { nodePrimitives } from '../src/platform/node/primitives';

/**
 * A million path hashes in turn with the kernel alone over the same bytes, and the index that finds names by them:
 * npm run bench:names
 */
const COUNT = 1_000_000;
const ROUNDS = 7;
const names = Array.from({ length: COUNT }, (_, i) => `folder${i % 400}/Sub${i % 37}/entry_${i}.dat`);
const hashing: NameHashing = {
  hash: 'fnv1a64',
  seed: undefined,
  spelling: 'lower',
  separator: '/',
  extension: 'kept',
  encoding: 'utf-8',
  before: '',
  behind: '',
  half: undefined,
  bits: 64,
};
const bytes = new TextEncoder().encode(names.join('\n'));
const loaded = NameList.parse(bytes);
const same = Uint8Array.from({ length: 256 }, (_, i) => i);
const times = { kernel: [] as number[], ours: [] as number[], load: [] as number[], index: [] as number[] };
const timed = (list: number[], work: () => unknown): void => {
  const began = performance.now();
  work();
  list.push(performance.now() - began);
};
for (let i = 0; i < ROUNDS; i++) {
  timed(times.kernel, () => fnvOfLines(bytes, COUNT, same));
  timed(times.ours, () => halvesOf(loaded, hashing, nodePrimitives));
  timed(times.load, () => NameList.parse(bytes));
  timed(times.index, () => new NameHashes(loaded, hashing, nodePrimitives, undefined, false));
}
const median = (list: number[]): number => list.sort((a, b) => a - b)[ROUNDS >> 1]!;
const [kernel, ours, load, index] = [times.kernel, times.ours, times.load, times.index].map(median) as [
  number,
  number,
  number,
  number,
];
process.stdout.write(
  `| ${COUNT} path hashes (FNV-1a 64, lower case) of a loaded list, against the kernel alone | ${kernel.toFixed(0)} ms | ${ours.toFixed(0)} ms | **${(ours / kernel).toFixed(2)}** | at most 1.5 | |\n` +
    `| loading the list from its file's bytes | | ${load.toFixed(0)} ms | | | |\n` +
    `| its hashes and the index that finds names by them | | ${index.toFixed(0)} ms | | | |\n`,
);
