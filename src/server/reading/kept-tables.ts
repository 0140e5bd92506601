import fs from 'node:fs';
import path from 'node:path';
import v8 from 'node:v8';
import { writePieces } from '@/platform/node/catalogue-files';
import type { CatalogueArchive } from '../entries/catalogue';
import { log } from '../log';
import { scriptsStamp } from '../opening/scripts';
import { storageFolder } from '../storage/storage';
import { takeUp, type FileRead } from './laid-tables';

/** Raised whenever tables are read otherwise than before, so that what was kept then is not taken for it. */
const READ_AS = 2;
/** More than this of one archive is read anew each time. */
const MOST_KEPT_BYTES = 512 << 20;

/** A file as a catalogue knows it; changes with what is in it. */
export interface KeptPlace {
  readonly number: number;
  readonly path: string;
  readonly size: number;
  /** NaN where nothing says it. */
  readonly modified: number;
  /** Whether it is read as lines under keys. */
  readonly isLines: boolean;
}

interface KeptFile extends KeptPlace {
  /** What was read of it, laid down. */
  readonly read: Uint8Array;
}

interface Kept {
  readonly of: string;
  readonly files: readonly KeptFile[];
}

const fileOf = (gameId: number, archiveId: number): string =>
  path.join(storageFolder('readings', String(gameId)), `${archiveId}.tables`);

/**
 * Tables that were read of an archive's files, kept on disk: unpacking and reading them takes several times as long as taking them from here. Of each file it is known whether it is still the one that was
 * read; what is broken is not kept.
 */
export class KeptTables {
  private readonly file: string;
  private readonly of: string;
  private readonly before: ReadonlyMap<number, KeptFile>;
  private readonly now: KeptFile[] = [];
  private isOther = false;

  constructor(gameId: number, { id, made }: Pick<CatalogueArchive, 'id' | 'made'>) {
    this.file = fileOf(gameId, id);
    this.of = JSON.stringify([READ_AS, made, scriptsStamp('table'), scriptsStamp('lines')]);
    this.before = new Map(keptIn(this.file, this.of).map((one) => [one.number, one]));
  }

  /** What was read of a file that is the same still. */
  take(place: KeptPlace): FileRead | undefined {
    const kept = this.before.get(place.number);
    const read = kept && isSame(kept, place) ? takenUp(kept) : undefined;
    if (read) this.now.push(kept!);
    return read;
  }

  /** Notes what was read of a file, laid down. */
  note(place: KeptPlace, read: Uint8Array): void {
    this.isOther = true;
    this.now.push({ ...place, read });
  }

  /** Writes what was taken and noted, where that is not what stands there. What cannot be kept, as on a full disk, is read anew the next time. */
  keep(): void {
    try {
      this.write();
    } catch (error) {
      log.warn({ file: this.file, error: String(error) }, 'tables that were read are not kept');
    }
  }

  private write(): void {
    if (!this.isOther && this.now.length === this.before.size) return;
    const bytes = this.now.reduce((sum, { read }) => sum + read.length, 0);
    if (this.now.length === 0 || bytes > MOST_KEPT_BYTES) fs.rmSync(this.file, { force: true });
    else writePieces(this.file, [v8.serialize({ of: this.of, files: this.now } satisfies Kept)]);
  }
}

const isSame = (a: KeptPlace, b: KeptPlace): boolean =>
  a.path === b.path && a.isLines === b.isLines && a.size === b.size && Object.is(a.modified, b.modified);

function takenUp({ read }: KeptFile): FileRead | undefined {
  try {
    return takeUp(read);
  } catch {
    return undefined;
  }
}

/** What is kept by the same scripts of the same archive; of anything else, and of what is not whole, nothing. */
function keptIn(file: string, of: string): readonly KeptFile[] {
  let kept: Partial<Kept> | null;
  try {
    kept = v8.deserialize(fs.readFileSync(file)) as Partial<Kept> | null;
  } catch {
    return [];
  }
  return kept?.of === of ? (kept.files ?? []) : [];
}

/** Whether anything of a game is kept, which it is once somebody has read it. */
export const hasKept = (gameId: number): boolean =>
  fs.readdirSync(storageFolder('readings', String(gameId))).length > 0;

/** Takes away what was kept of archives that no tables are read from any more. */
export function dropOthers(gameId: number, archives: readonly Pick<CatalogueArchive, 'id'>[]): void {
  const folder = storageFolder('readings', String(gameId));
  const wanted = new Set(archives.map(({ id }) => `${id}.tables`));
  for (const name of fs.readdirSync(folder))
    if (!wanted.has(name)) fs.rmSync(path.join(folder, name), { recursive: true, force: true });
}
