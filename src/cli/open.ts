import fs from 'node:fs';
import { openArchive, parseNameList, type Archive, type OpenOptions } from '@/core/archive';
import { spelledBytes } from '@/core/bytes';
import { openFileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { readScriptFile, readShelf, scriptFor } from '@/platform/node/script-shelf';
import { UsageError } from './usage-error';

/** Options that every command has which opens archives. */
export interface OpenArguments {
  script?: string;
  key: string[];
  set: string[];
  names: string[];
}

export interface Opened {
  readonly archive: Archive;
  readonly options: OpenOptions;
  readonly path: string;
}

export function openOptions(given: OpenArguments): OpenOptions {
  const keys = new Map<string, Uint8Array>();
  for (const text of given.key) {
    const at = text.indexOf('=');
    const bytes = at > 0 ? spelledBytes(text.slice(at + 1)) : undefined;
    if (!bytes) throw new UsageError('--key takes NAME=HEX, such as --key game=00112233…');
    keys.set(text.slice(0, at), bytes);
  }
  const parameters = new Map<string, number | string>();
  for (const text of given.set) {
    const at = text.indexOf('=');
    if (at < 1) throw new UsageError('--set takes NAME=VALUE, such as --set version=4');
    const value = text.slice(at + 1);
    parameters.set(text.slice(0, at), /^-?\d{1,15}$/.test(value) ? Number(value) : value);
  }
  const names = given.names.flatMap((file) => parseNameList(readText(file)));
  return { primitives: nodePrimitives, keys, parameters, names };
}

export function openGiven(path: string, given: OpenArguments, options: OpenOptions): Opened {
  requireFile(path);
  const source = openFileSource(path);
  if (given.script) requireFile(given.script);
  const script = given.script ? readScriptFile(given.script) : scriptFor(source, readShelf()).script;
  for (const name of options.parameters?.keys() ?? [])
    if (!script.parameters.has(name)) throw new UsageError(`'${script.title}' has no parameter ${name}`);
  return { archive: openArchive(script, source, options), options, path };
}

export function requireFile(path: string): void {
  const found = fs.statSync(path, { throwIfNoEntry: false });
  if (!found) throw new UsageError(`${path}: there is no such file`);
  if (!found.isFile()) throw new UsageError(`${path}: is not a file`);
}

function readText(path: string): string {
  requireFile(path);
  return fs.readFileSync(path, 'utf8');
}
