import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import picomatch from 'picomatch';
import { entryAsShown, type Archive, type Entry, type Nested } from '@/core/archive';
import { refOfSpan, FormatError, type BytesRef } from '@/core/bytes';
import { planNested, proveArchive, type FilePlan, type Way } from '@/core/mod';
import { sealNames, type ArchiveFile } from '@/core/script';
import { extractEntries, TargetNames } from '@/platform/node/extract-files';
import type { ExtractThread } from '@/platform/node/extract-threads';
import { openFileSource } from '@/platform/node/file-source';
import { readScriptFile } from '@/platform/node/script-shelf';
import { writePlan } from '@/platform/node/write-plan';
import { openGiven, openOptions, requireFile, type OpenArguments, type Opened } from './open';
import { edited } from './edits';
import { UsageError } from './usage-error';

/** Where a command writes, so that it can be run inside a test. */
export interface Output {
  out(line: string): void;
  complain(line: string): void;
  /** A thread that opens the same archive and helps to extract; undefined where there are none. */
  helper?(work: HelperWork): ExtractThread;
}

/** What a thread needs to know to help. */
export interface HelperWork {
  readonly path: string;
  readonly given: OpenArguments;
  readonly folder: string;
  readonly stored: boolean;
}

/** Less than this is sooner done than a thread has started. */
const WORTH_A_THREAD_BYTES = 24 << 20;
const MOST_THREADS = 4;

/** Runs `work` for each archive; one that fails does not keep the others from being tried. */
async function forEach(
  paths: readonly string[],
  given: OpenArguments,
  output: Output,
  work: (opened: Opened) => boolean | Promise<boolean>,
): Promise<number> {
  const options = openOptions(given);
  let good = true;
  for (const file of paths)
    try {
      const opened = openGiven(file, given, options);
      try {
        if (!(await work(opened))) good = false;
      } finally {
        opened.close();
      }
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      output.complain(error.message);
      good = false;
    }
  return good ? 0 : 1;
}

function entryFacts(archive: Archive, entry: Entry): Record<string, unknown> {
  let transforms: string[] = [];
  if (!entry.problem) transforms = sealNames(archive.steps(entry));
  return {
    index: entry.index,
    path: entry.path,
    offset: entry.offset,
    storedSize: entry.storedSize,
    size: entry.size,
    transforms,
    ...(entry.file > 0 && { file: archive.files[entry.file]!.fileName }),
    ...(entry.hash && { hash: entry.hash }),
    ...(entry.modified !== undefined && { modified: new Date(entry.modified * 1000).toISOString() }),
    ...(entry.problem && { problem: entry.problem.message }),
  };
}

export function listEntries(
  paths: string[],
  given: OpenArguments & { json?: boolean },
  output: Output,
): Promise<number> {
  return forEach(paths, given, output, ({ archive, path: file }) => {
    for (const one of archive.entries) {
      const entry = entryAsShown(archive, one);
      const facts = { ...(paths.length > 1 && { archive: file }), ...entryFacts(archive, entry) };
      if (given.json) output.out(JSON.stringify(facts));
      else
        output.out(
          `${String(entry.index).padStart(7)}  ${String(entry.size).padStart(12)}  ${String(entry.storedSize).padStart(12)}  ${entry.path}`,
        );
      if (entry.problem) output.complain(entry.problem.message);
    }
    return archive.entries.every((entry) => !entry.problem);
  });
}

export async function extract(
  paths: string[],
  given: OpenArguments & { to: string; match: string[]; stored?: boolean; json?: boolean },
  output: Output,
): Promise<number> {
  const matches = given.match.length > 0 ? picomatch(given.match, { dot: true }) : () => true;
  const names = new TargetNames();
  let matched = 0;
  const stored = given.stored ?? false;
  const code = await forEach(paths, given, output, async ({ archive, path: file }) => {
    const chosen = archive.entries
      .map((entry) => entryAsShown(archive, entry))
      .filter((entry) => matches(entry.path));
    matched += chosen.length;
    const helpers = helpersFor(chosen, { path: file, given, folder: given.to, stored }, output);
    const { failed } = await extractEntries(archive, chosen, given.to, names, {
      stored,
      helpers,
      onEntry({ entry, file, bytes, error }) {
        if (error) output.complain(error.message);
        else if (given.json)
          output.out(JSON.stringify({ index: entry.index, path: entry.path, file, bytes }));
        else output.out(file!);
      },
    }).finally(() => Promise.all(helpers.map((helper) => helper.close())));
    return failed === 0;
  });
  if (code === 0 && matched === 0 && given.match.length > 0)
    throw new UsageError(`no entry matches ${given.match.join(' or ')}`);
  return code;
}

function helpersFor(entries: readonly Entry[], work: HelperWork, output: Output): ExtractThread[] {
  const bytes = entries.reduce((sum, entry) => sum + entry.size, 0);
  if (!output.helper || bytes < WORTH_A_THREAD_BYTES || entries.length < 32) return [];
  const count = Math.min(MOST_THREADS, os.availableParallelism()) - 1;
  return Array.from({ length: count }, () => output.helper!(work));
}

interface Change {
  readonly target: string;
  readonly file: string;
  used: boolean;
}

function parseChange(text: string, option = '--change takes PATH=FILE or #INDEX=FILE'): Change {
  const at = text.lastIndexOf('=');
  if (at < 1 || at === text.length - 1) throw new UsageError(option);
  const change = { target: text.slice(0, at), file: text.slice(at + 1), used: false };
  requireFile(change.file);
  return change;
}

function changesFor(archive: Archive, changes: Change[]): Map<number, BytesRef> {
  const found = new Map<number, BytesRef>();
  for (const change of changes) {
    const entries = entriesCalled(archive, change.target);
    if (entries.length > 1)
      throw new UsageError(
        `${change.target} is the path of ${entries.length} entries; choose one: ${entries.map(({ index }) => `#${index}`).join(', ')}`,
      );
    const [entry] = entries;
    if (!entry) continue;
    const source = openFileSource(change.file);
    found.set(entry.index, refOfSpan(source, 0, source.length));
    change.used = true;
  }
  return found;
}

/** Entries with a path, or with a number that is written `#7`. */
function entriesCalled(archive: Archive, text: string): Entry[] {
  const number = /^#(\d+)$/.exec(text)?.[1];
  return archive.entries.filter((entry) =>
    number === undefined ? isCalled(archive, entry, text) : entry.index === Number(number),
  );
}

/** Whether an entry has this path; one without a name has it with and without the ending of what it is. */
const isCalled = (archive: Archive, entry: Entry, path: string): boolean =>
  entry.path === path ||
  (!entry.named && path.startsWith(`${entry.path}.`) && entryAsShown(archive, entry).path === path);

export function repack(
  paths: string[],
  given: OpenArguments & { change: string[]; add: string[]; remove: string[]; to: string; way: Way },
  output: Output,
): number {
  const changes = given.change.map((text) => parseChange(text));
  const add = given.add.map((text) => parseChange(text, '--add takes PATH=FILE'));
  const several = paths.length > 1;
  if (several && add.length + given.remove.length > 0)
    throw new UsageError('entries are added to one archive at a time, and taken out of one');
  const mains = paths.map((file) =>
    several ? path.join(given.to, path.basename(file.split('//')[0]!)) : given.to,
  );
  const options = openOptions(given);
  const opened = paths.map((file) => openGiven(file, given, options));
  const perArchive = opened.map(({ archive }) => changesFor(archive, changes));
  const unused = changes.find(({ used }) => !used);
  if (unused) throw new UsageError(`no archive has an entry ${unused.target}`);
  const targets = opened.map(({ nested }, i) => targetsOf(outermost(nested), mains[i]!));
  refuseTaken(targets.flatMap((ofArchive) => [...ofArchive.values()]));
  opened.forEach(({ archive, nested, close }, i) => {
    const count = archive.entries.length;
    const { changes: now, marks } = edited(archive, perArchive[i]!, { add, remove: given.remove }, (text) =>
      entriesCalled(archive, text),
    );
    const plan = planNested(nested, now, { way: given.way, ...(marks && { edits: marks }) });
    try {
      const targetOf = ({ file }: FilePlan): string => targets[i]!.get(file)!;
      for (const file of plan.files)
        fs.mkdirSync(path.dirname(path.resolve(targetOf(file))), { recursive: true });
      writePlan(plan, targetOf, undefined, false);
      const more = marks ? `, ${add.length} added, ${given.remove.length} taken out` : '';
      const changed = `${perArchive[i]!.size} of ${count} entries changed${more}`;
      for (const file of plan.files) output.out(`${targetOf(file)}: ${file.length} bytes, ${changed}`);
    } finally {
      plan.discard();
      close();
    }
  });
  return 0;
}

function outermost(nested: Nested): Archive {
  return nested.within ? outermost(nested.within.outer) : nested.archive;
}

/** Where each file of an archive goes: those beside the opened one take names that go with its new name. */
function targetsOf(archive: Archive, main: string): Map<ArchiveFile, string> {
  const beside = (file: ArchiveFile): string =>
    path.join(path.dirname(main), archive.nameBeside(file, path.basename(main)));
  return new Map(
    archive.files
      .filter(({ holders }) => !holders)
      .map((file) => [file, file.index === 0 ? main : beside(file)]),
  );
}

function refuseTaken(targets: readonly string[]): void {
  if (new Set(targets).size < targets.length) throw new UsageError('two files have the same name');
  for (const target of targets)
    if (fs.existsSync(target)) throw new UsageError(`${target} is there already; choose another place`);
}

export function prove(
  paths: string[],
  given: OpenArguments & { json?: boolean },
  output: Output,
): Promise<number> {
  return forEach(paths, given, output, ({ archive, options, path: file }) => {
    const proof = proveArchive(archive, options);
    if (given.json) output.out(JSON.stringify({ archive: file, ...proof }));
    else
      for (const { claim, holds, detail } of proof.claims)
        output.out(`${holds ? 'holds' : 'FAILS'}  ${claim}: ${detail}`);
    return proof.holds;
  });
}

export function checkScript(paths: string[], output: Output): number {
  let good = true;
  for (const file of paths) {
    requireFile(file);
    try {
      const script = readScriptFile(file);
      output.out(`${file}: good; ${script.title}, ${script.records.size} records, ${script.keys.size} keys`);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      output.complain(error.message);
      good = false;
    }
  }
  return good ? 0 : 1;
}
