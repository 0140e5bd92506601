import { collect, sliceOf, type BytesRef } from '../bytes';
import { START_BYTES, typeOfHead, typeOfLength, type HeadType, type Start } from '../kinds';
import { startOfBlocks } from '../script';
import type { Archive, Entry } from './archive';
import { entryUnder } from './group-entries';

/** What has to be unpacked whole before anything of it can be seen is looked at up to this many bytes. */
const MOST_UNPACKED = 1 << 20;

/** The first plain bytes of an entry, unpacked only as far as needed; undefined where they cannot be read, or only with all the others. */
export function startOfEntry(archive: Archive, entry: Entry): Start | undefined {
  try {
    if (entry.problem || entry.size === 0) return undefined;
    const bytes = unsealedStart(archive, entry) ?? firstOf(archive, entry);
    return bytes && { bytes, length: entry.size };
  } catch {
    // Broken bytes break a decoder in ways of its own; extracting them says what is wrong.
    return undefined;
  }
}

/** What an entry is by its first bytes; undefined where they say nothing or cannot be read. */
export function typeOfEntry(archive: Archive, entry: Entry): HeadType | undefined {
  const start = startOfEntry(archive, entry);
  return start && typeOfStart(start);
}

/** What first bytes say, whatever a script or a name may say besides. */
export const typeOfStart = ({ bytes, length }: Start): HeadType | undefined =>
  typeOfHead(bytes) ?? (length === undefined ? undefined : typeOfLength(bytes, length));

function firstOf(archive: Archive, entry: Entry): Uint8Array | undefined {
  // In blocks only the first one is unpacked.
  const isCut = archive.steps(entry).some(({ sort }) => sort === 'blocks');
  if (!isCut && entry.size > MOST_UNPACKED) return undefined;
  const ref: BytesRef = archive.plain(entry);
  for (const chunk of ref.chunks()) return chunk.subarray(0, START_BYTES);
  return undefined;
}

/** The first plain bytes without unpacking the rest; undefined where a step of the seal needs all of it. */
function unsealedStart(archive: Archive, entry: Entry): Uint8Array | undefined {
  const { primitives } = archive.context;
  const stored = archive.stored(entry);
  const length = Math.min(START_BYTES, stored.length);
  const { span } = stored;
  const steps = archive.steps(entry);
  if (span && steps.length === 0) return span.source.read(span.offset, length);
  let bytes = collect(sliceOf(stored, 0, length));
  for (const step of steps) {
    if (step.sort === 'blocks') {
      const start = startOfBlocks(bytes, step, primitives);
      if (!start) return undefined;
      bytes = start;
    } else if (step.sort === 'codec') {
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
