/** Some bits of a block of sixteen bytes, given as its two halves, lowest first. `at + count` is at most 128. */
export function bitsOf(low: u64, high: u64, at: u32, count: u32): u32 {
  let value: u64;
  if (at >= 64) value = high >> (at - 64);
  else {
    value = low >> at;
    if (at + count > 64) value |= high << (64 - at);
  }
  return <u32>(value & ((1 << count) - 1));
}

let low: u64 = 0;
let high: u64 = 0;
let at: u32 = 0;

/** Begins a block that is written bit by bit. */
export function beginBits(): void {
  low = high = 0;
  at = 0;
}

/** Adds `count` bits, the lowest first. */
export function putBits(value: u32, count: u32): void {
  const bits = <u64>(value & ((1 << count) - 1));
  if (at < 64) {
    low |= bits << at;
    if (at + count > 64) high |= bits >> (64 - at);
  } else high |= bits << (at - 64);
  at += count;
}

export function endBits(to: usize): void {
  store<u64>(to, low);
  store<u64>(to, high, 8);
}
