import fs from 'node:fs';
import {
  entryNamed,
  NameList,
  openArchive,
  openNested,
  type Archive,
  type Nested,
  type OpenOptions,
} from '@/core/archive';
import { spelledBytes, type ByteSource } from '@/core/bytes';
import type { FindCompanion, Script } from '@/core/script';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import {
  readScriptFile,
  readShelf,
  scriptFor,
  scriptsFor,
  type ShelvedScript,
} from '@/platform/node/script-shelf';
import { UsageError } from './usage-error';

/** Options that every command has which opens archives. */
export interface OpenArguments {
  script: string[];
  key: string[];
  set: string[];
  names: string[];
  file: string[];
}

export interface Opened {
  readonly archive: Archive;
  readonly nested: Nested;
  /** Closes its files; what its plans refer to must not be read any more. */
  close(): void;
  readonly options: OpenOptions;
  readonly path: string;
  /** Opens what is to be the archive of a depth in the same way, 0 for the outermost. */
  reopen(depth: number, source: ByteSource, companion: FindCompanion): Archive;
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
  const names = NameList.parse(Buffer.concat(given.names.flatMap((file) => [readList(file), LINE_END])));
  return { primitives: nodePrimitives, keys, parameters, names };
}

/**
 * Opens an archive, or one inside it: `game.bin//data/levels.zip` is the entry data/levels.zip of game.bin, opened
 * by what it is or by a script that is given.
 */
export function openGiven(path: string, given: OpenArguments, options: OpenOptions): Opened {
  const [file = path, ...steps] = fs.existsSync(path) ? [path] : path.split('//');
  requireFile(file);
  for (const script of given.script) requireFile(script);
  const source = openFileSource(file);
  const scriptAt = scriptsByDepth(steps.length, given.script, options);
  const scripts: Script[] = [];
  const scriptOf = (depth: number, of: ByteSource): Script => (scripts[depth] ??= scriptAt(depth, of));
  const script = scriptOf(0, source);
  const companions = companionsOf(file, { given: givenFiles(given, script) });
  const whole: OpenOptions = { ...options, companion: companions.find };
  const archive = openArchive(script, source, steps.length > 0 ? withoutParameters(whole) : whole);
  let nested: Nested = { archive, within: undefined, discard: () => archive.discard() };
  const opened = [nested];
  let innermost = whole;
  steps.forEach((step, i) => {
    nested = openNested(nested, entryNamed(nested.archive, step), (inner, companion) => {
      innermost = { ...options, companion };
      const isLast = i === steps.length - 1;
      return openArchive(scriptOf(i + 1, inner), inner, isLast ? innermost : withoutParameters(innermost));
    });
    opened.push(nested);
  });
  const reopen: Opened['reopen'] = (depth, of, companion) => {
    const own: OpenOptions = { ...options, companion };
    return openArchive(scripts[depth]!, of, depth < steps.length ? withoutParameters(own) : own);
  };
  const close = (): void => {
    for (const one of opened.reverse()) one.discard();
    companions.close();
    source.close();
  };
  return { archive: nested.archive, nested, options: innermost, path, close, reopen };
}

let shelf: readonly ShelvedScript[] | undefined;
/** The scripts that ship, read once for all archives of a command. */
const shipped = (): readonly ShelvedScript[] => (shelf ??= readShelf());

let lastScript: { readonly id: string; readonly script: Script } | undefined;
/** A script of a file, read once for as long as that stays as it is. */
function scriptIn(file: string): Script {
  const { mtimeMs, size, ino } = fs.statSync(file);
  const id = `${file} ${mtimeMs} ${size} ${ino}`;
  if (lastScript?.id !== id) lastScript = { id, script: readScriptFile(file) };
  return lastScript.script;
}

/**
 * Chooses a script for each depth: as many as there are depths go in this order; of fewer, the first go to what no shipped
 * script recognises, and the last to the innermost archive.
 */
function scriptsByDepth(
  deepest: number,
  given: readonly string[],
  options: OpenOptions,
): (depth: number, of: ByteSource) => Script {
  const left = [...given];
  const outer = (of: ByteSource): Script => {
    if (given.length > deepest) return scriptIn(left.shift()!);
    const shelf = shipped();
    const [known] = scriptsFor(of, shelf);
    return !known && left.length > 0 ? scriptIn(left.shift()!) : scriptFor(of, shelf).script;
  };
  return (depth, of) => {
    if (depth < deepest) return outer(of);
    const last = left.at(-1);
    const script = last ? scriptIn(last) : scriptFor(of, shipped()).script;
    refuseUnknown(script, options);
    return script;
  };
}

/** Parameters are for the innermost archive. */
const withoutParameters = (options: OpenOptions): OpenOptions => ({ ...options, parameters: new Map() });

function refuseUnknown(script: Script, { parameters }: OpenOptions): void {
  for (const name of parameters?.keys() ?? [])
    if (!script.parameters.has(name)) throw new UsageError(`'${script.title}' has no parameter ${name}`);
}

/** Files of an archive that lie elsewhere, as NAME=FILE or NAME[NUMBER]=FILE. */
function givenFiles(given: OpenArguments, script: Script): Map<string, string> {
  const files = new Map<string, string>();
  for (const text of given.file) {
    const at = text.indexOf('=');
    const name = text.slice(0, Math.max(at, 0));
    const known = script.files.get(name.replace(/\[\d+\]$/, ''));
    if (at < 1 || known?.from.sort !== 'beside')
      throw new UsageError(
        `--file takes NAME=FILE with a name of the script's section files, such as ${[...script.files.keys()][0] ?? 'data'}=game.dat`,
      );
    requireFile(text.slice(at + 1));
    files.set(name, text.slice(at + 1));
  }
  return files;
}

export function requireFile(path: string): void {
  const found = fs.statSync(path, { throwIfNoEntry: false });
  if (!found) throw new UsageError(`${path}: there is no such file`);
  if (!found.isFile()) throw new UsageError(`${path}: is not a file`);
}

const LINE_END = Buffer.from('\n');

function readList(path: string): Buffer {
  requireFile(path);
  return fs.readFileSync(path);
}
