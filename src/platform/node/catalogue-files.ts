import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import {
  aboutListing,
  Catalogue,
  columnOver,
  COLUMNS_START_BYTES,
  columnsHeadLength,
  LineSearch,
  packColumns,
  packFacts,
  packListing,
  readColumnsHead,
  readEntryColumns,
  unpackFacts,
  unpackListing,
  type CatalogueColumns,
  type Column,
  type ColumnsHead,
  type FactTitle,
  type Listing,
} from '@/core/catalogue';
import { FormatError } from '@/core/bytes';

/** Writes a file from its pieces, under another name until it is whole. */
export function writePieces(file: string, pieces: readonly Uint8Array[]): void {
  const temporary = `${file}.${randomUUID()}`;
  const fd = fs.openSync(temporary, 'wx');
  try {
    for (const piece of pieces)
      for (let done = 0; done < piece.length;) done += fs.writeSync(fd, piece, done, piece.length - done);
    fs.closeSync(fd);
    fs.renameSync(temporary, file);
  } catch (error) {
    fs.rmSync(temporary, { force: true });
    throw error;
  }
}

function readFully(fd: number, into: Uint8Array, position: number): void {
  for (let done = 0; done < into.length;) {
    const got = fs.readSync(fd, into, done, into.length - done, position + done);
    if (got === 0) throw new FormatError('truncated', { byteOffset: position + done });
    done += got;
  }
}

function withFile<T>(file: string, work: (fd: number, length: number) => T): T {
  const fd = fs.openSync(file, 'r');
  try {
    return work(fd, fs.fstatSync(fd).size);
  } finally {
    fs.closeSync(fd);
  }
}

function headOf(fd: number, length: number): ColumnsHead {
  const start = new Uint8Array(Math.min(length, COLUMNS_START_BYTES));
  readFully(fd, start, 0);
  const whole = new Uint8Array(Math.min(length, columnsHeadLength(start)));
  readFully(fd, whole, 0);
  return readColumnsHead(whole, length);
}

/** Writes what an archive holds, with whatever is to be known without reading it all. */
export const writeListing = (file: string, listing: Listing, about: unknown): void =>
  writePieces(file, packListing(listing, about));

export function readListing(file: string): Listing {
  const buffer = fs.readFileSync(file);
  const bytes = new Uint8Array(buffer.byteLength);
  bytes.set(buffer);
  return unpackListing(bytes);
}

/** What was kept beside a listing; undefined where there is none that can be read. */
export function readListingAbout(file: string): unknown {
  try {
    return withFile(file, (fd, length) => aboutListing(headOf(fd, length)));
  } catch {
    // A cache that is not there, or not whole, is made anew.
    return undefined;
  }
}

/** Writes columns of numbers by their names, with a head. */
export const writeColumns = (file: string, head: unknown, columns: Readonly<Record<string, Column>>): void =>
  writePieces(file, packColumns(head, columns));

/** Reads all columns of a file. Throws FormatError where it is none, or cut. */
export function readColumns(file: string): { head: unknown; columns: Record<string, Column> } {
  return withFile(file, (fd, length) => {
    const { head, places } = headOf(fd, length);
    const columns: Record<string, Column> = {};
    for (const [name, { offset, byteLength, type }] of places) {
      const bytes = new Uint8Array(byteLength);
      readFully(fd, bytes, offset);
      columns[name] = columnOver(bytes, type);
    }
    return { head, columns };
  });
}

/** Writes the catalogue of a game. */
export function writeCatalogue(
  file: string,
  { count, facts, ...columns }: CatalogueColumns,
  about: unknown,
): void {
  const { titles, values } = packFacts(facts);
  writePieces(file, packColumns({ count, about, facts: titles }, { ...columns, ...values }));
}

interface CatalogueHead {
  readonly count: number;
  readonly about: unknown;
  readonly facts: readonly FactTitle[];
}

/** Reads the head of a catalogue alone. */
export function readCatalogueAbout(file: string): unknown {
  try {
    return withFile(file, (fd, length) => (headOf(fd, length).head as { about: unknown }).about);
  } catch {
    return undefined;
  }
}

/** Reads a catalogue, its paths straight into the memory in which they are searched. Throws FormatError where it is cut. */
export function readCatalogue(file: string): { catalogue: Catalogue; about: unknown } {
  return withFile(file, (fd, length) => {
    const { head, places } = headOf(fd, length);
    const { count, about, facts } = head as CatalogueHead;
    const placeOf = (name: string) => {
      const place = places.get(name);
      if (!place) throw new FormatError('part-missing', { fieldPath: name });
      return place;
    };
    const column = <T extends Column>(name: string): T => {
      const { byteLength, offset, type } = placeOf(name);
      const bytes = new Uint8Array(byteLength);
      readFully(fd, bytes, offset);
      return columnOver(bytes, type) as T;
    };
    const lines = placeOf('lines');
    const search = new LineSearch(lines.byteLength, count);
    readFully(fd, search.lines, lines.offset);
    const ends = placeOf('ends');
    readFully(
      fd,
      new Uint8Array(search.ends.buffer, search.ends.byteOffset, search.ends.byteLength),
      ends.offset,
    );
    const catalogue = new Catalogue(search, {
      count,
      archives: column<Uint16Array>('archives'),
      byName: column<Uint32Array>('byName'),
      facts: unpackFacts(facts, column),
      ...readEntryColumns(column),
    });
    return { catalogue, about };
  });
}
