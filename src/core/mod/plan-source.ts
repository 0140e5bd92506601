import { checkRange, collect, type ByteSource } from '../bytes';
import type { FilePlan, Segment } from './plan';

/** A file that a plan would give, readable anywhere without being written. */
export function planSource(plan: FilePlan, name: string): ByteSource {
  const { segments } = plan;
  const made = new Map<Segment, Uint8Array>();

  function indexAt(offset: number): number {
    let low = 0;
    let high = segments.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (segments[middle]!.place <= offset) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  function part(segment: Segment, from: number, length: number): Uint8Array {
    if (segment.copyFrom !== undefined) return plan.file.space.source.read(segment.copyFrom + from, length);
    if (segment.bytes.span) return segment.bytes.span.source.read(segment.bytes.span.offset + from, length);
    let bytes = made.get(segment);
    if (!bytes) made.set(segment, (bytes = collect(segment.bytes)));
    return bytes.subarray(from, from + length);
  }

  return {
    name,
    length: plan.length,
    read(offset, length) {
      checkRange(name, plan.length, offset, length);
      if (length === 0) return new Uint8Array(0);
      const first = indexAt(offset);
      const segment = segments[first]!;
      if (offset + length <= segment.place + segment.length)
        return part(segment, offset - segment.place, length);
      const bytes = new Uint8Array(length);
      for (let at = offset, i = first; at < offset + length; i++) {
        const here = segments[i]!;
        const take = Math.min(offset + length, here.place + here.length) - at;
        bytes.set(part(here, at - here.place, take), at - offset);
        at += take;
      }
      return bytes;
    },
  };
}
