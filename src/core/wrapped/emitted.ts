import type { Archive } from '../archive';
import { refOfBytes } from '../bytes';
import { emit, planArchive } from '../mod';

/** A file of one, held in memory, with other plain bytes of its entries, in their order or by their numbers; what depends on them is recomputed by its script. */
export function emitted(
  archive: Archive,
  plain: readonly Uint8Array[] | ReadonlyMap<number, Uint8Array>,
): Uint8Array {
  const plan = planArchive(
    archive,
    new Map([...plain.entries()].map(([i, bytes]) => [i, refOfBytes(bytes)])),
  );
  const out = new Uint8Array(plan.length);
  let done = 0;
  emit(plan.files[0]!, {
    write(bytes) {
      out.set(bytes, done);
      done += bytes.length;
    },
  });
  plan.discard();
  return out;
}
