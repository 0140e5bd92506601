import type { HashState } from './hash';

/** Feeds whole stripes of a fixed size to a hash that works on them, and keeps the rest for its end. */
export function striped(
  size: number,
  stripe: (view: DataView, at: number) => void,
  finish: (rest: Uint8Array, total: number) => number | bigint,
): HashState {
  const held = new Uint8Array(size);
  const heldView = new DataView(held.buffer);
  let filled = 0;
  let total = 0;
  return {
    update(bytes) {
      total += bytes.length;
      let at = 0;
      if (filled > 0) {
        at = Math.min(size - filled, bytes.length);
        held.set(bytes.subarray(0, at), filled);
        filled += at;
        if (filled < size) return;
        stripe(heldView, 0);
        filled = 0;
      }
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      for (; at + size <= bytes.length; at += size) stripe(view, at);
      held.set(bytes.subarray(at));
      filled = bytes.length - at;
    },
    value: () => finish(held.subarray(0, filled), total),
  };
}
