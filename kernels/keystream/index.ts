/** The bytes of a recurrence state * times + plus over other bytes, sixteen at once: four states in each of four vectors, each led on by sixteen steps. */

/** The first byte that nothing here uses. */
export function firstFree(): usize {
  return (__heap_base + 15) & ~15;
}

function fourFrom(state: u32, times: u32, plus: u32): v128 {
  const a = state * times + plus;
  const b = a * times + plus;
  const c = b * times + plus;
  const d = c * times + plus;
  let four = i32x4.splat(<i32>a);
  four = i32x4.replace_lane(four, 1, <i32>b);
  four = i32x4.replace_lane(four, 2, <i32>c);
  return i32x4.replace_lane(four, 3, <i32>d);
}

/**
 * Lays the stream over `length` bytes at `at`, a multiple of sixteen; the answer is the state behind them. The first byte is taken
 * from the state behind `state`. `mask` is how much of a state counts, `shift` the lowest bit of the byte that is taken.
 */
export function over(
  at: usize,
  length: usize,
  state: u32,
  times: u32,
  plus: u32,
  mask: u32,
  shift: i32,
): u32 {
  // Sixteen steps as one: times^16, and what plus adds up to.
  let far: u32 = 1;
  let add: u32 = 0;
  for (let i = 0; i < 16; i++) {
    far *= times;
    add = add * times + plus;
  }
  const leap = i32x4.splat(<i32>far);
  const more = i32x4.splat(<i32>add);
  const counts = i32x4.splat(<i32>mask);
  const low = i32x4.splat(255);
  let a = fourFrom(state, times, plus);
  let b = fourFrom(<u32>i32x4.extract_lane(a, 3), times, plus);
  let c = fourFrom(<u32>i32x4.extract_lane(b, 3), times, plus);
  let d = fourFrom(<u32>i32x4.extract_lane(c, 3), times, plus);
  let last = state;
  for (let end = at + length; at < end; at += 16) {
    const first = i16x8.narrow_i32x4_u(
      v128.and(i32x4.shr_u(v128.and(a, counts), shift), low),
      v128.and(i32x4.shr_u(v128.and(b, counts), shift), low),
    );
    const second = i16x8.narrow_i32x4_u(
      v128.and(i32x4.shr_u(v128.and(c, counts), shift), low),
      v128.and(i32x4.shr_u(v128.and(d, counts), shift), low),
    );
    v128.store(at, v128.xor(v128.load(at), i8x16.narrow_i16x8_u(first, second)));
    last = <u32>i32x4.extract_lane(d, 3);
    a = i32x4.add(i32x4.mul(a, leap), more);
    b = i32x4.add(i32x4.mul(b, leap), more);
    c = i32x4.add(i32x4.mul(c, leap), more);
    d = i32x4.add(i32x4.mul(d, leap), more);
  }
  return last;
}
