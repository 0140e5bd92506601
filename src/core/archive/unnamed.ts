import { collect, sliceOf, type BytesRef } from '../bytes';
import type { Archive, Entry } from './archive';
import { entryUnder } from './group-entries';
import { typeOfHead, type HeadType } from './kind';

/** Stored bytes that are unsealed for a look at what they are; whole blocks of every cipher. */
const LOOKED_AT = 512;

/** What an entry is by its first bytes; undefined where they say nothing or cannot be read. */
export function typeOfEntry(archive: Archive, entry: Entry): HeadType | undefined {
  try {
    if (entry.problem || entry.size === 0) return undefined;
    return typeOfHead(startOf(archive, entry) ?? firstOf(archive.plain(entry)));
  } catch {
    // Broken bytes break a decoder in ways of its own; extracting them says what is wrong.
    return undefined;
  }
}

function firstOf(ref: BytesRef): Uint8Array {
  for (const chunk of ref.chunks()) return chunk;
  return new Uint8Array(0);
}

/** The first plain bytes without unpacking the rest; undefined where a step of the seal needs all of it. */
function startOf(archive: Archive, entry: Entry): Uint8Array | undefined {
  const { primitives } = archive.context;
  const stored = archive.stored(entry);
  let bytes = collect(sliceOf(stored, 0, Math.min(LOOKED_AT, stored.length)));
  for (const step of archive.steps(entry)) {
    if (step.sort === 'blocks') return undefined;
    if (step.sort === 'codec') {
      if (!step.codec.start) return undefined;
      bytes = step.codec.start(bytes, primitives);
    } else {
      if (step.skip !== undefined || step.first !== undefined || step.every) return undefined;
      const whole = bytes.length - (bytes.length % step.cipher.blockLength);
      bytes = step.cipher.start(step, true, primitives, stored.length).update(bytes.subarray(0, whole));
    }
  }
  return bytes;
}

/**
 * The entry under the path that people see: an entry whose name nobody knows gets the ending of what it is. Its own path
 * stays as it is, so that a change of its bytes does not change it.
 */
export function entryAsShown(archive: Archive, entry: Entry): Entry {
  if (entry.named) return entry;
  const type = typeOfEntry(archive, entry);
  return type ? entryUnder(entry, `${entry.path}.${type.ending}`) : entry;
}
