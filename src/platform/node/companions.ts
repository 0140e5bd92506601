import fs from 'node:fs';
import path from 'node:path';
import type { FindCompanion } from '@/core/script';
import { openFileSource, type FileSource } from './file-source';
import { resolveInside } from './inside';

/** Opens what lies beside an archive, and closes all of it again. */
export interface Companions {
  readonly find: FindCompanion;
  close(): void;
}

interface CompanionOptions {
  /** What messages call a file, by its path from the archive's folder. */
  readonly nameOf?: (relative: string) => string;
  /** Files that lie elsewhere, by `data` or `volumes[3]`. */
  readonly given?: ReadonlyMap<string, string>;
  /** The file to open in place of one in the folder, such as its kept original. */
  readonly inPlaceOf?: (name: string) => string | undefined;
}

/** Finds the other files of an archive in its folder, whatever the case of their letters. */
export function companionsOf(file: string, options: CompanionOptions = {}): Companions {
  const { nameOf = (relative: string) => relative, given, inPlaceOf } = options;
  const folder = path.dirname(file);
  const opened: FileSource[] = [];
  const open = (at: string, name: string): FileSource => {
    const source = openFileSource(at, name);
    opened.push(source);
    return source;
  };
  return {
    find(fileName, type, number) {
      const elsewhere = given?.get(`${type}[${number}]`) ?? given?.get(type);
      if (elsewhere !== undefined) return open(elsewhere, elsewhere);
      const relative = spelledInFolder(folder, fileName);
      if (relative === undefined) return undefined;
      const at = resolveInside(folder, relative);
      const name = nameOf(relative);
      return fs.statSync(at).isFile() ? open(inPlaceOf?.(name) ?? at, name) : undefined;
    },
    close() {
      for (const source of opened.splice(0)) source.close();
    },
  };
}

/** The name as the folder spells it; games made elsewhere do not care for the case of letters. */
function spelledInFolder(folder: string, name: string): string | undefined {
  let at = folder;
  const spelled: string[] = [];
  for (const part of name.split(/[/\\]/)) {
    const exact = fs.existsSync(path.join(at, part));
    const found = exact ? part : namesIn(at).find((other) => other.toLowerCase() === part.toLowerCase());
    if (found === undefined) return undefined;
    spelled.push(found);
    at = path.join(at, found);
  }
  return spelled.join('/');
}

function namesIn(folder: string): string[] {
  return fs.statSync(folder, { throwIfNoEntry: false })?.isDirectory() ? fs.readdirSync(folder) : [];
}
