import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { FormatError } from '@/core/bytes';
import { parseScript, type Script } from '@/core/script';
import { makeFolders } from '@/platform/node/make-folders';
import type { ShelvedScript } from '@/platform/node/script-shelf';
import { storageFolder } from '../storage/storage';
import { notFound, UserError } from '@/platform/user-error';

/** Ids of scripts that were written here, apart from those that ship. */
const PREFIX = 'own-';
const MOST_CHARACTERS = 1 << 20;

/** What is to be said of a script's text. */
export interface ScriptCheck {
  readonly problem: { readonly line: number; readonly column: number; readonly message: string } | undefined;
  readonly summary: string;
}

export interface ScriptVersion {
  readonly version: number;
  readonly savedAt: string;
}

const folderOf = (id: string): string => path.join(storageFolder('scripts'), id);
const fileOf = (id: string, version: number): string => path.join(folderOf(id), `${version}.yaml`);

export const isOwn = (id: string): boolean => /^own-[a-z0-9-]{1,80}$/.test(id);

/** Reads a text as a script and says where it is wrong, or what it is. */
export function checkScriptText(text: string): ScriptCheck {
  try {
    const { title, records, entries, keys } = parseScript(text);
    const needs = keys.size > 0 ? `, needs ${[...keys.keys()].join(', ')}` : '';
    const tables = `${entries.length} ${entries.length === 1 ? 'table' : 'tables'} of entries`;
    return { problem: undefined, summary: `${title}: ${records.size} records, ${tables}${needs}` };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const { line = 1, column = 1 } = error.facts;
    return { problem: { line, column, message: error.message }, summary: '' };
  }
}

/** Versions of a script that was written here, the newest first. */
export function versionsOf(id: string): ScriptVersion[] {
  if (!isOwn(id) || !fs.existsSync(folderOf(id))) throw notFound('The script');
  return fs
    .readdirSync(folderOf(id))
    .flatMap((name) => {
      const version = Number(/^(\d+)\.yaml$/.exec(name)?.[1]);
      if (!version) return [];
      return [{ version, savedAt: fs.statSync(fileOf(id, version)).mtime.toISOString() }];
    })
    .sort((a, b) => b.version - a.version);
}

export function textOf(id: string, version: number): string {
  if (!versionsOf(id).some((one) => one.version === version)) throw notFound('This version of the script');
  return fs.readFileSync(fileOf(id, version), 'utf8');
}

/** Saves a good text as the next version, of a new script where no id is given. A wrong one is refused with its place. */
export function saveScript(text: string, given?: string): { id: string; version: number } {
  if (text.length > MOST_CHARACTERS)
    throw new UserError(413, 'The script is longer than a million characters.');
  const { problem } = checkScriptText(text);
  if (problem) throw new UserError(422, problem.message);
  const id = given ?? freeId(parseScript(text));
  const newest = given ? versionsOf(given)[0] : undefined;
  if (newest && textOf(id, newest.version) === text) return { id, version: newest.version };
  const version = (newest?.version ?? 0) + 1;
  makeFolders(folderOf(id));
  const temporary = path.join(folderOf(id), `.${randomUUID()}`);
  fs.writeFileSync(temporary, text, { flag: 'wx', flush: true });
  try {
    // Fails where somebody saved the same version meanwhile, instead of taking its place.
    fs.linkSync(temporary, fileOf(id, version));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    throw new UserError(409, 'Somebody saved this script meanwhile. Open the newest version and look.');
  } finally {
    fs.rmSync(temporary);
  }
  return { id, version };
}

function freeId({ title }: Script): string {
  const slug = title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60);
  for (let number = 1; ; number++) {
    const id = `${PREFIX}${slug || 'script'}${number === 1 ? '' : `-${number}`}`;
    if (!fs.existsSync(folderOf(id))) return id;
  }
}

/** Takes a script off the shelf; its versions are kept aside. */
export function removeScript(id: string): void {
  versionsOf(id);
  fs.renameSync(folderOf(id), path.join(storageFolder('scripts-removed'), `${id}-${randomUUID()}`));
}

/** The newest version of every script that was written here. One that no longer reads is left out. */
export function ownShelf(): ShelvedScript[] {
  return fs
    .readdirSync(storageFolder('scripts'))
    .filter(isOwn)
    .sort()
    .flatMap((id) => {
      const [newest] = versionsOf(id);
      if (!newest) return [];
      try {
        return [{ id, script: parseScript(textOf(id, newest.version)) }];
      } catch (error) {
        if (error instanceof FormatError) return [];
        throw error;
      }
    });
}

/** Changes whenever a script is saved or removed. */
export function ownStamp(): string {
  return fs
    .readdirSync(storageFolder('scripts'))
    .filter(isOwn)
    .map((id) => `${id} ${versionsOf(id)[0]?.version ?? 0}`)
    .join();
}
