import { expect } from '@jest/globals';
import { openArchive, type Archive, type OpenOptions } from '@/core/archive';
import { collect, FormatError, memorySource, refOfBytes } from '@/core/bytes';
import { emit, planArchive, proveArchive, type FilePlan, type Way } from '@/core/mod';
import type { Script } from '@/core/script';
import { nodePrimitives } from '@/platform/node/primitives';
import { emitted } from './holds';

/** For tests only: what an archive of a script must give, and that it goes both ways. */
export const bare: OpenOptions = { primitives: nodePrimitives };

export const openWith = (script: Script, bytes: Uint8Array, options: OpenOptions = bare): Archive =>
  openArchive(script, memorySource(bytes, 'sample'), options);

export const textsOf = (archive: Archive): string[] =>
  archive.entries.map((entry) => Buffer.from(collect(archive.plain(entry))).toString());

/** The archive that a change gives, all of its files written out and opened again. */
export function changed(
  archive: Archive,
  index: number,
  text: string,
  options: OpenOptions,
  way: Way = 'shifted',
): Archive {
  const plan = planArchive(archive, new Map([[index, refOfBytes(Buffer.from(text))]]), { way });
  const files = plan.files.map((file) => ({ file: file.file, bytes: writtenOut(file) }));
  plan.discard();
  return openArchive(archive.script, memorySource(files[0]!.bytes, archive.source.name), {
    ...options,
    companion(fileName, name, number) {
      const found = files.find(({ file }) => file.type?.name === name && file.number === number);
      return found && memorySource(found.bytes, fileName);
    },
  });
}

export function writtenOut(file: FilePlan): Uint8Array {
  const parts: Uint8Array[] = [];
  emit(file, { write: (bytes) => void parts.push(bytes.slice()) });
  return new Uint8Array(Buffer.concat(parts));
}

export const withChange = (archive: Archive, index: number, text: string): Uint8Array =>
  emitted(planArchive(archive, new Map([[index, refOfBytes(Buffer.from(text))]])));

/** Options that find the files that an open archive has. */
const whole = (archive: Archive, options: OpenOptions): OpenOptions => ({
  ...options,
  companion: (_fileName, name, number) =>
    archive.files.find(({ type, number: own }) => type?.name === name && own === number)?.space.source,
});

/** Where a format's sizes go by the next offset, the filling up to it belongs to the entry. */
const trimmed = (text: string): string => text.replace(/[.\0]*$/, '');

/**
 * The archive lists these entries, proves itself, and stays whole when each entry in turn is made shorter
 * and longer; the changed archives prove themselves as well. Gives back the archive as it was.
 */
export function expectRoundTrip(
  script: Script,
  bytes: Uint8Array,
  entries: Readonly<Record<string, string>> | readonly (readonly [string, string])[],
  options: OpenOptions = bare,
  changes: readonly string[] = ['x', 'something much longer than what was there '.repeat(3).trim()],
): Archive {
  const archive = openWith(script, bytes, options);
  const paths = archive.entries.map(({ path }) => path);
  const texts = textsOf(archive).map(trimmed);
  const expected = Array.isArray(entries) ? entries : Object.entries(entries);
  expect(paths.map((path, i) => [path, texts[i]])).toEqual(expected);
  expect(proveArchive(archive, options)).toMatchObject({ holds: true });
  for (const { index } of archive.entries)
    for (const text of changes) {
      const built = changed(archive, index, text, options);
      const wanted = [...texts];
      wanted[index] = text;
      expect(built.entries.map(({ path }) => path)).toEqual(paths);
      expect(textsOf(built).map(trimmed)).toEqual(wanted);
      expect(proveArchive(built, whole(built, options))).toMatchObject({ holds: true });
    }
  return archive;
}

/** Cut at every byte, it is refused in words, or every entry that it lists is whole or marked. */
export function expectCutsAreSeen(
  script: Script,
  bytes: Uint8Array,
  options: OpenOptions = bare,
  step = 1,
): void {
  for (let length = 0; length < bytes.length; length += step) {
    try {
      const archive = openWith(script, bytes.slice(0, length), options);
      for (const entry of archive.entries)
        if (!entry.problem)
          expect(entry.offset + entry.storedSize).toBeLessThanOrEqual(
            archive.files[entry.file]!.space.source.length,
          );
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      // It says where: in the script's terms or by a byte.
      expect(error.facts.fieldPath ?? error.facts.byteOffset).toBeDefined();
    }
  }
}
