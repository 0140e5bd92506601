import { entryAsShown, type Archive, type Entry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { factOf, factsOfArchive, type FactColumn } from '@/core/catalogue';
import { proveArchive } from '@/core/mod';
import { sealNames } from '@/core/script';
import type { ExtractThread } from '@/platform/node/extract-threads';
import { readScriptFile } from '@/platform/node/script-shelf';
import type { StartLane } from './thing-lanes';
import { openGiven, openOptions, requireFile, type OpenArguments, type Opened } from './open';
import { doubtsOf } from './doubts';
import type { HelperWork } from './extract';

/** Where a command writes, so that it can be run inside a test. */
export interface Output {
  out(line: string): void;
  complain(line: string): void;
  /** A thread that opens the same archive and helps to extract; undefined where there are none. */
  helper?(work: HelperWork): ExtractThread;
  /** A thread that opens and writes files which are a thing each. */
  lane?: StartLane;
}

/** Runs `work` for each archive; one that fails does not keep the others from being tried. */
export async function forEach(
  paths: readonly string[],
  given: OpenArguments,
  output: Output,
  work: (opened: Opened, number: number) => boolean | Promise<boolean>,
  /** Whether a file came out well that was done elsewhere; undefined where it is to be opened here. */
  doneElsewhere: (number: number) => Promise<boolean | undefined> = () => Promise.resolve(undefined),
): Promise<number> {
  const options = openOptions(given);
  let good = true;
  for (const [number, file] of paths.entries())
    try {
      const isDone = await doneElsewhere(number);
      if (isDone !== undefined) {
        good &&= isDone;
        continue;
      }
      const opened = openGiven(file, given, options);
      try {
        if (!(await work(opened, number))) good = false;
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

function entryFacts(archive: Archive, entry: Entry, columns: readonly FactColumn[]): Record<string, unknown> {
  const shown = columns.flatMap((column) => {
    const fact = factOf(column, entry.index);
    return fact === undefined ? [] : [[column.title, fact] as const];
  });
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
    ...(shown.length > 0 && { shown: Object.fromEntries(shown) }),
    ...(entry.problem && { problem: entry.problem.message }),
  };
}

export function listEntries(
  paths: string[],
  given: OpenArguments & { json?: boolean },
  output: Output,
): Promise<number> {
  return forEach(paths, given, output, ({ archive, path: file }) => {
    const columns = given.json ? factsOfArchive(archive) : [];
    for (const one of archive.entries) {
      const entry = entryAsShown(archive, one);
      if (given.json)
        output.out(
          JSON.stringify({
            ...(paths.length > 1 && { archive: file }),
            ...entryFacts(archive, entry, columns),
          }),
        );
      else
        output.out(
          `${String(entry.index).padStart(7)}  ${String(entry.size).padStart(12)}  ${String(entry.storedSize).padStart(12)}  ${entry.path}`,
        );
      if (entry.problem) output.complain(entry.problem.message);
    }
    const doubts = doubtsOf(archive, file);
    for (const { text } of doubts) output.complain(text);
    return archive.entries.every((entry) => !entry.problem) && doubts.every(({ isHarmless }) => isHarmless);
  });
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
