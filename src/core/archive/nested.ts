import { collect, FormatError, memorySource, type ByteSource } from '../bytes';
import { baseName, viewOf, type ArchiveFile, type FindCompanion } from '../script';
import type { Archive, Entry } from './archive';

/** An archive, and where it lies when it is an entry of another one. */
export interface Nested {
  readonly archive: Archive;
  readonly within:
    | {
        readonly outer: Nested;
        /** The entries that its files are. */
        readonly entries: ReadonlyMap<ArchiveFile, Entry>;
      }
    | undefined;
  /** Lets go of what was unpacked to read it. */
  discard(): void;
}

/** Entries are unpacked in memory up to this length, and into a spool beyond. */
const MOST_HELD = 32 << 20;

/** The plain bytes of an entry as a source: a view where they lie as they are, else unpacked once. */
export function entrySource(archive: Archive, entry: Entry): { source: ByteSource; discard(): void } {
  const plain = archive.plain(entry);
  const nothing = (): void => undefined;
  const named = (source: ByteSource): ByteSource => ({
    name: entry.path,
    length: source.length,
    read: (offset, length) => source.read(offset, length),
  });
  if (plain.span)
    return { source: named(viewOf(plain.span.source, plain.span.offset, plain.length)), discard: nothing };
  if (plain.length <= MOST_HELD)
    return { source: memorySource(collect(plain), entry.path), discard: nothing };
  const spool = archive.context.primitives.spool();
  try {
    for (const chunk of plain.chunks()) spool.write(chunk);
  } catch (error) {
    spool.discard();
    throw error;
  }
  return { source: named(spool.source), discard: () => spool.discard() };
}

/**
 * Opens an entry as an archive of its own. `open` gets its bytes and a way to find files beside it, which are
 * entries of the same folder.
 */
export function openNested(
  outer: Nested,
  entry: Entry,
  open: (source: ByteSource, companion: FindCompanion) => Archive,
): Nested {
  const own = entrySource(outer.archive, entry);
  const opened = [own];
  const beside = new Map<ByteSource, Entry>();
  const folder = entry.path.slice(0, entry.path.lastIndexOf('/') + 1);
  const discard = (): void => {
    for (const { discard: letGo } of opened.splice(0)) letGo();
  };
  try {
    const archive = open(own.source, (fileName) => {
      const wanted = `${folder}${fileName.replaceAll('\\', '/')}`.toLowerCase();
      const found = outer.archive.entries.find(({ path }) => path.toLowerCase() === wanted);
      if (!found) return undefined;
      const companion = entrySource(outer.archive, found);
      opened.push(companion);
      beside.set(companion.source, found);
      return companion.source;
    });
    const entries = new Map<ArchiveFile, Entry>();
    for (const file of archive.files) {
      const of = file.index === 0 ? entry : beside.get(file.space.source);
      if (of) entries.set(file, of);
    }
    return {
      archive,
      within: { outer, entries },
      discard() {
        archive.discard();
        discard();
      },
    };
  } catch (error) {
    discard();
    throw error;
  }
}

/** The one entry of a path or `#NUMBER`. Throws FormatError where there is none, or several of that path. */
export function entryNamed(archive: Archive, target: string): Entry {
  const number = /^#(\d+)$/.exec(target)?.[1];
  const found = archive.entries.filter(({ path, index }) =>
    number === undefined ? path === target : index === Number(number),
  );
  if (found.length === 1) return found[0]!;
  throw new FormatError('bad-value', {
    file: baseName(archive.source.name),
    expected: `one entry ${target}`,
    actual: found.length === 0 ? 'none' : found.map(({ index }) => `#${index}`).join(', '),
    ...(found.length > 1 && { remedy: 'Choose one by its number' }),
  });
}
