import fs from 'node:fs';
import path from 'node:path';
import { START_BYTES, tellKind, type Kind, type Told } from '@/core/kinds';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import type { JobContext } from '../running/job-context';
import { archiveScriptFor, kindRules, maskedScriptFor, scriptById } from '../opening/scripts';
import { isKeptAside } from './kept-aside';

/** More files than any game folder has; a drive chosen by mistake stops here. */
const MOST_FILES = 300_000;

export interface FolderFile {
  /** Path below the folder. */
  readonly path: string;
  readonly size: number;
  readonly modifiedMs: number;
  /** Id of the script that opens it as an archive. */
  readonly script: string | undefined;
  /** What it is, where it is no archive. */
  readonly kind: Kind;
  /** Whether a format script told that. */
  readonly isScripted: boolean;
  /** Why it could not be read. */
  readonly unreadable: string | undefined;
}

/** What a walk through a folder found, and what it left out. */
export interface FolderWalk {
  readonly files: readonly FolderFile[];
  /** Links that were not followed, so that nothing outside is read, and folders that may not be read. */
  readonly links: readonly string[];
  readonly closed: readonly string[];
}

/** Goes through a folder and recognises each file by what is in it. */
export function walkFolder(folder: string, chosen: ReadonlyMap<string, string>, job: JobContext): FolderWalk {
  const files: FolderFile[] = [];
  const links: string[] = [];
  const closed: string[] = [];
  const open = [''];
  while (open.length > 0) {
    const inner = open.pop()!;
    job.check();
    let items: fs.Dirent[];
    try {
      items = fs.readdirSync(path.join(folder, inner), { withFileTypes: true });
    } catch (error) {
      // The game folder itself must be there; one within it that may not be read is said.
      if (inner === '') throw error;
      closed.push(inner);
      continue;
    }
    for (const item of items) {
      const relative = inner ? `${inner}/${item.name}` : item.name;
      if (item.name.startsWith('.')) continue;
      if (item.isSymbolicLink()) links.push(relative);
      else if (item.isDirectory()) open.push(relative);
      else if (item.isFile()) {
        if (files.length >= MOST_FILES)
          throw new Error(`More than ${MOST_FILES} files; choose the folder of one game.`);
        job.progress(files.length, files.length + 1, 'items', relative);
        files.push(lookAtFile(folder, relative, chosen.get(relative)));
      }
    }
  }
  files.sort((a, b) => a.path.localeCompare(b.path, 'en', { numeric: true }));
  return { files, links, closed };
}

function lookAtFile(folder: string, relative: string, chosen: string | undefined): FolderFile {
  try {
    const source = openFileSource(path.join(folder, relative), relative);
    try {
      const { mtimeMs } = fs.fstatSync(source.fd);
      const own = chosen !== undefined && scriptById(chosen) ? chosen : undefined;
      const isLookedAt = source.length > 0 && !isKeptAside(relative);
      const script =
        own ?? (isLookedAt ? (archiveScriptFor(source) ?? maskedScriptFor(source))?.id : undefined);
      return {
        path: relative,
        size: source.length,
        modifiedMs: Math.round(mtimeMs),
        script,
        ...kindOfFile(source),
        unreadable: undefined,
      };
    } finally {
      source.close();
    }
  } catch (error) {
    const why = (error as NodeJS.ErrnoException).code === 'EACCES' ? 'it may not be read' : String(error);
    return {
      path: relative,
      size: 0,
      modifiedMs: 0,
      script: undefined,
      ...toldOf(tellKind(relative, undefined, kindRules())),
      unreadable: why,
    };
  }
}

function kindOfFile(source: FileSource): ReturnType<typeof toldOf> {
  const bytes = source.read(0, Math.min(START_BYTES, source.length));
  return toldOf(tellKind(source.name, { bytes, length: source.length }, kindRules()));
}

const toldOf = ({ kind, by }: Told): Pick<FolderFile, 'kind' | 'isScripted'> => ({
  kind,
  isScripted: by === 'script',
});

/** Files of a folder with their relative paths, without looking into them; links are not followed. */
export function* filesBelow(folder: string): Generator<string> {
  const open = [''];
  while (open.length > 0) {
    const inner = open.pop()!;
    let items: fs.Dirent[];
    try {
      items = fs.readdirSync(path.join(folder, inner), { withFileTypes: true });
    } catch {
      continue;
    }
    for (const item of items) {
      const relative = inner ? `${inner}/${item.name}` : item.name;
      if (item.name.startsWith('.')) continue;
      if (item.isDirectory()) open.push(relative);
      else if (item.isFile()) yield relative;
    }
  }
}
