/** Full scale of samples of 16 bits. */
const FULL = 32_767;

/**
 * How unlike a sound some samples are: of several ways to read the same bytes the one with the lowest number is the right one. The parts of the sum:
 * - how much is left of the signal that its two neighbours do not tell (the second difference), as a logarithm: sounds are smooth;
 * - samples at full scale, and a mean that is not zero: codes that are read wrongly run off;
 * - whether neighbouring steps go together otherwise at even places than at odd ones. No sound knows of places, but codes whose halves of bytes are
 *   exchanged do, noise among them, which is smooth in neither order (a cyclostationary signal of period two; W. Gardner, 1991);
 * - a jump where blocks begin with a sample of their own, which the block before must have come up to.
 *
 * `samples` are of 16 bits, of one channel; `block` is how many of them a block has, 0 where there are none.
 */
export function unlikeliness(samples: ArrayLike<number>, block = 0): number {
  const { length } = samples;
  if (length < 3) return 0;
  let [sum, clipped, second, steps, apart, jumps, borders] = [0, 0, 0, 0, 0, 0, 0];
  let before = samples[1]! - samples[0]!;
  let place = 1;
  for (let i = 0; i < length; i++) {
    const value = samples[i]!;
    sum += value;
    if (value >= FULL || value <= -FULL) clipped++;
    if (i < 2) continue;
    place++;
    const step = value - samples[i - 1]!;
    if (block > 0 && i % block === 0) {
      place = 0;
      jumps += Math.abs(step);
      borders++;
    } else if (place > 1) {
      second += (step - before) ** 2;
      apart += place % 2 === 0 ? step * before : -step * before;
    }
    steps += step * step;
    before = step;
  }
  const usual = Math.sqrt(steps / length);
  return (
    Math.log(second / length + 1) +
    (50 * clipped) / length +
    Math.abs(sum / length) / 2000 +
    (20 * Math.abs(apart)) / (steps + length) +
    (borders > 0 ? 2 * Math.log(1 + jumps / borders / (usual + 1)) : 0)
  );
}
