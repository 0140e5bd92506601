import fs from 'node:fs';
import path from 'node:path';
import { emit, type BuildPlan, type FilePlan, type Segment } from '@/core/mod';
import { copyRanges, type CopyRange } from './copy-ranges';
import { createFileSink, flushFolder, writeFullyAt } from './file-sink';
import type { FileSource } from './file-source';

/** Files that were written under temporary names beside their places, to be looked at before they take them. */
export interface StagedFiles {
  /** Where a file of the plan lies until `keep`. */
  temporaryOf(file: FilePlan): string;
  /** Gives the files their names, all or none. */
  keep(): void;
  /** Removes what was written. */
  drop(): void;
}

/**
 * Writes the files of a plan, none of which may be there yet, under temporary names beside their places. When anything fails nothing
 * is left. The command line leaves flushing to the system, as any copying program does; what goes into a game is flushed by the
 * installer in any case.
 */
export function stagePlan(
  plan: BuildPlan,
  targetOf: (file: FilePlan) => string,
  progress?: (done: number) => void,
  flush = true,
): StagedFiles {
  const written = new Map<FilePlan, { temporary: string; target: string }>();
  const drop = (): void => {
    for (const { temporary } of written.values()) fs.rmSync(temporary, { force: true });
  };
  let before = 0;
  try {
    for (const file of plan.files) {
      const target = targetOf(file);
      const temporary = path.join(path.dirname(target), `.${path.basename(target)}.${process.pid}.part`);
      written.set(file, { temporary, target });
      writeFile(file, temporary, flush, progress && ((done) => progress(before + done)));
      before += file.length;
    }
  } catch (error) {
    drop();
    throw error;
  }
  return {
    temporaryOf: (file) => written.get(file)!.temporary,
    drop,
    keep() {
      const placed: string[] = [];
      try {
        for (const { temporary, target } of written.values()) {
          fs.renameSync(temporary, target);
          placed.push(target);
        }
        if (flush)
          for (const folder of new Set(placed.map((target) => path.dirname(target)))) flushFolder(folder);
      } catch (error) {
        for (const target of placed) fs.rmSync(target, { force: true });
        drop();
        throw error;
      }
    },
  };
}

function writeFile(
  file: FilePlan,
  temporary: string,
  flush: boolean,
  progress: ((done: number) => void) | undefined,
): void {
  fs.rmSync(temporary, { force: true });
  const sink = createFileSink(temporary);
  try {
    const { fd } = file.file.space.source as Partial<FileSource>;
    if (fd === undefined) emit(file, sink, progress && { progress });
    else writeCopying(file, fd, sink.fd, progress);
  } catch (error) {
    sink.abandon();
    throw error;
  }
  if (flush) sink.finish();
  else fs.closeSync(sink.fd);
}

/** What is copied goes from file to file, past the source's own windows; what is made goes to its place meanwhile. */
function writeCopying(
  { segments }: FilePlan,
  from: number,
  to: number,
  progress: ((done: number) => void) | undefined,
): void {
  let made = 0;
  const meanwhile = (): void => {
    for (const { place, bytes, copyFrom } of segments) {
      if (copyFrom !== undefined) continue;
      let at = place;
      for (const chunk of bytes.chunks()) {
        writeFullyAt(to, chunk, at);
        at += chunk.length;
      }
      made += at - place;
      progress?.(made);
    }
  };
  copyRanges(from, to, copiedRanges(segments), {
    meanwhile,
    progress: progress && ((copied) => progress(made + copied)),
  });
}

/** Stretches that are copied; neighbours that lay side by side are one. */
function copiedRanges(segments: readonly Segment[]): CopyRange[] {
  const ranges: { from: number; to: number; length: number }[] = [];
  for (const { copyFrom: from, place: to, length } of segments) {
    if (from === undefined) continue;
    const last = ranges.at(-1);
    if (last && last.from + last.length === from && last.to + last.length === to) last.length += length;
    else ranges.push({ from, to, length });
  }
  return ranges;
}
