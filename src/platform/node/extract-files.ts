import fs from 'node:fs';
import path from 'node:path';
import { portablePath, type EntryStore, type StoredEntry } from '@/core/archive';
import { FormatError, type BytesRef, type FormatErrorCode, type FormatErrorFacts } from '@/core/bytes';
import { writeFully } from './file-sink';
import { makeFolders } from './make-folders';
import { SafeFolders } from './safe-folders';

export interface ExtractOptions {
  /** The bytes as they lie in the archive instead of the plain ones. */
  readonly stored?: boolean;
  /** Called for each entry in order; throwing stops the run. */
  readonly onEntry?: (result: ExtractedEntry) => void;
  /** Threads that take part of the work; whoever made them closes them. */
  readonly helpers?: readonly ExtractHelper[];
  /** A file that is there already is left alone, and told as an error of its entry. */
  readonly keepStanding?: boolean;
  /** The folder has no name of its own yet (`freshFolder`), so that files are written under theirs at once. */
  readonly isFresh?: boolean;
}

/** An entry with the file it becomes below the folder; `number` counts through the run. */
export interface ExtractTask {
  readonly number: number;
  readonly index: number;
  readonly file: string;
}

/** What became of a task, in a form that can be sent from a thread. */
export interface ExtractResult {
  readonly number: number;
  readonly bytes: number;
  readonly error: { readonly code: FormatErrorCode; readonly facts: FormatErrorFacts } | undefined;
}

/** Somebody who has the same archive open and writes entries of it below the same folder. */
export interface ExtractHelper {
  extract(tasks: readonly ExtractTask[]): Promise<readonly ExtractResult[]>;
}

/** One entry written, or why it was not. */
export interface ExtractedEntry {
  readonly entry: StoredEntry;
  /** Path of the file below the target folder; undefined where it failed. */
  readonly file: string | undefined;
  readonly bytes: number;
  readonly error: FormatError | undefined;
}

/** Gives the file that an entry becomes. */
export interface NamesTaken {
  take(path: string, index: number): string;
}

/**
 * Gives every entry a file name of its own below one folder: legal on every common system, never one that another entry of the run
 * has, in whatever case, and never one that is a folder of another's. One instance serves all archives of a run.
 */
export class TargetNames implements NamesTaken {
  private readonly files = new Set<string>();
  /** Folders by their name in lower letters, as they are called; one whose name a file has is called otherwise. */
  private readonly folders = new Map<string, string>();
  private readonly next = new Map<string, number>();

  take(wanted: string): string {
    const name = portablePath(wanted);
    const slash = name.lastIndexOf('/');
    const placed = slash < 0 ? name : `${this.folder(name.slice(0, slash))}/${name.slice(slash + 1)}`;
    const unique = this.unlike(placed, (one) => this.files.has(one) || this.folders.has(one));
    this.files.add(unique.toLowerCase());
    return unique;
  }

  /** The name, or the first one with a number that is not taken. */
  private unlike(name: string, isTaken: (key: string) => boolean): string {
    const key = name.toLowerCase();
    if (!isTaken(key)) return name;
    // Goes on where the last one of this name was put, since thousands may be called the same.
    for (let number = this.next.get(key) ?? 2; ; number++) {
      const unique = numbered(name, number);
      if (isTaken(unique.toLowerCase())) continue;
      this.next.set(key, number + 1);
      return unique;
    }
  }

  private folder(name: string): string {
    const known = this.folders.get(name.toLowerCase());
    if (known !== undefined) return known;
    const slash = name.lastIndexOf('/');
    const placed = slash < 0 ? name : `${this.folder(name.slice(0, slash))}/${name.slice(slash + 1)}`;
    const unique = this.unlike(placed, (one) => this.files.has(one));
    this.folders.set(name.toLowerCase(), unique);
    if (unique !== name) this.folders.set(unique.toLowerCase(), unique);
    return unique;
  }
}

function numbered(name: string, number: number): string {
  const dot = name.lastIndexOf('.');
  const stemEnd = dot > name.lastIndexOf('/') + 1 ? dot : name.length;
  return `${name.slice(0, stemEnd)}~${number}${name.slice(stemEnd)}`;
}

/**
 * Files that are written at the same time. Making a file costs the system more than filling it, and with
 * eight in flight extraction takes half the time of one after the other.
 */
const IN_FLIGHT = 8;
/** Entries up to this size go through a reused buffer; larger ones are streamed one at a time. */
const BUFFERED_BYTES = 1 << 20;

/**
 * Writes entries below `folder`, which is made when it is missing. Every file is written under a
 * temporary name and renamed, so that no half file bears a final name; in a fresh folder that goes for the folder. One broken entry does not stop the
 * others; a system error such as a full disk does.
 */
export async function extractEntries(
  archive: EntryStore,
  entries: Iterable<StoredEntry>,
  folder: string,
  names: NamesTaken,
  options: ExtractOptions = {},
): Promise<{ written: number; failed: number }> {
  makeFolders(folder);
  return new Extraction(archive, fs.realpathSync(folder), options).run(entries, names);
}

/** Writes the entries of some tasks; for a helper. A system error ends it. */
export async function extractTasks(
  archive: EntryStore,
  tasks: readonly ExtractTask[],
  folder: string,
  how: { stored: boolean; keepStanding: boolean; isFresh: boolean },
): Promise<ExtractResult[]> {
  const results: ExtractResult[] = [];
  const onTask = (number: number, { bytes, error }: ExtractedEntry): void =>
    void results.push({ number, bytes, error: error && { code: error.code, facts: error.facts } });
  await new Extraction(archive, fs.realpathSync(folder), how, onTask).runTasks(tasks);
  return results;
}

/** Tasks are handed over in batches of about this many bytes, each helper having up to two at a time. */
const BATCH_BYTES = 2 << 20;
const BATCH_ENTRIES = 64;
const BATCHES_AHEAD = 2;

class Extraction {
  private readonly folders: SafeFolders;
  private readonly buffers: Uint8Array[] = [];
  private readonly inFlight = new Set<Promise<void>>();
  private readonly results = new Map<number, ExtractedEntry>();
  private readonly helping = new Map<ExtractHelper, number>();
  private readonly handed = new Set<Promise<void>>();
  private told = 0;
  private count = 0;
  private failure: unknown;
  private written = 0;
  private failed = 0;
  private readonly isShared: boolean;

  constructor(
    private readonly archive: EntryStore,
    private readonly root: string,
    private readonly options: ExtractOptions,
    private readonly onTask?: (number: number, result: ExtractedEntry) => void,
  ) {
    this.folders = new SafeFolders(root);
    // Threads of its own keep the cores busy; handing each write to yet another one would only cost.
    this.isShared = onTask !== undefined || (options.helpers?.length ?? 0) > 0;
  }

  async run(entries: Iterable<StoredEntry>, names: NamesTaken): Promise<{ written: number; failed: number }> {
    const batch: StoredEntry[] = [];
    let bytes = 0;
    const perBatch = this.options.helpers?.length ? BATCH_ENTRIES : 1;
    const flush = async (): Promise<void> => {
      const tasks = batch.map((entry) => ({
        number: this.count++,
        index: entry.index,
        file: names.take(entry.path, entry.index),
      }));
      await this.share(batch.splice(0), tasks);
      bytes = 0;
    };
    try {
      for (const entry of entries) {
        if (this.failure) break;
        batch.push(entry);
        bytes += entry.size;
        if (batch.length >= perBatch || bytes >= BATCH_BYTES) await flush();
      }
      if (!this.failure) await flush();
    } finally {
      await Promise.all([...this.inFlight, ...this.handed]);
    }
    if (this.failure) throw this.failure;
    return { written: this.written, failed: this.failed };
  }

  async runTasks(tasks: readonly ExtractTask[]): Promise<void> {
    try {
      for (const { number, index, file } of tasks) {
        if (this.failure) break;
        await this.start(this.archive.entries[index]!, number, file);
      }
    } finally {
      await Promise.all(this.inFlight);
    }
    if (this.failure) throw this.failure;
  }

  /** Gives a batch to a helper that has room, or does it here. */
  private async share(entries: readonly StoredEntry[], tasks: readonly ExtractTask[]): Promise<void> {
    const busy = (helper: ExtractHelper): number => this.helping.get(helper) ?? 0;
    const free = this.options.helpers?.find((helper) => busy(helper) < BATCHES_AHEAD);
    if (!free) {
      for (const [i, { number, file }] of tasks.entries()) await this.start(entries[i]!, number, file);
      // Lets the answers of helpers in, who would otherwise seem busy for ever.
      if (this.isShared) await new Promise((resolve) => setImmediate(resolve));
      return;
    }
    this.helping.set(free, busy(free) + 1);
    const work: Promise<void> = free
      .extract(tasks)
      .then(
        (results) => {
          const first = tasks[0]?.number ?? 0;
          for (const { number, bytes, error } of results)
            this.finish(number, {
              entry: entries[number - first]!,
              file: error ? undefined : tasks[number - first]!.file,
              bytes,
              error: error && new FormatError(error.code, error.facts),
            });
        },
        (error: unknown) => {
          this.failure ??= error;
        },
      )
      .finally(() => {
        this.helping.set(free, busy(free) - 1);
        this.handed.delete(work);
      });
    this.handed.add(work);
  }

  private async start(entry: StoredEntry, number: number, file: string): Promise<void> {
    const target = path.join(this.root, file);
    const { isFresh } = this.options;
    const temporary = isFresh
      ? target
      : path.join(path.dirname(target), `.zero-latch-${process.pid}-${number}.part`);
    try {
      if (isFolderEntry(entry)) {
        this.folders.make(path.join(this.root, file.replace(/(^|\/)_$/, '')));
        return this.finish(number, { entry, file, bytes: 0, error: undefined });
      }
      this.folders.make(path.dirname(target));
      if (this.options.keepStanding && fs.existsSync(target)) throw standing(entry, target);
      const ref = this.options.stored ? this.archive.stored(entry) : this.archive.plain(entry);
      if (ref.length > BUFFERED_BYTES || this.isShared) {
        streamToFile(ref, temporary, target);
        return this.finish(number, { entry, file, bytes: ref.length, error: undefined });
      }
      if (this.inFlight.size >= IN_FLIGHT) await Promise.race(this.inFlight);
      const buffer = this.buffers.pop() ?? new Uint8Array(BUFFERED_BYTES);
      fill(ref, buffer);
      const task: Promise<void> = writeBeside(buffer.subarray(0, ref.length), temporary, target)
        .then(
          () => this.finish(number, { entry, file, bytes: ref.length, error: undefined }),
          (error: unknown) => {
            this.failure ??= error;
          },
        )
        .finally(() => {
          this.inFlight.delete(task);
          this.buffers.push(buffer);
        });
      this.inFlight.add(task);
    } catch (error) {
      fs.rmSync(temporary, { force: true });
      if (!(error instanceof FormatError)) throw error;
      this.finish(number, { entry, file: undefined, bytes: 0, error });
    }
  }

  /** Results are told in the order of the entries, however they came in. */
  private finish(number: number, result: ExtractedEntry): void {
    if (result.error) this.failed++;
    else this.written++;
    if (this.onTask) return this.onTask(number, result);
    this.results.set(number, result);
    for (let next = this.results.get(this.told); next; next = this.results.get(this.told)) {
      this.results.delete(this.told++);
      try {
        this.options.onEntry?.(next);
      } catch (error) {
        this.failure ??= error;
      }
    }
  }
}

/** Archives that keep folders as entries end their names with a slash. */
export const isFolderEntry = ({ path: name, size }: StoredEntry): boolean => name.endsWith('/') && size === 0;

const standing = (entry: StoredEntry, target: string): FormatError =>
  new FormatError('taken', {
    fieldPath: entry.path,
    actual: target,
    remedy: 'It was left as it is. Choose another folder, or say that files may be overwritten',
  });

function fill(ref: BytesRef, buffer: Uint8Array): void {
  let at = 0;
  for (const chunk of ref.chunks()) {
    buffer.set(chunk, at);
    at += chunk.length;
  }
}

function streamToFile(ref: BytesRef, temporary: string, target: string): void {
  const fd = fs.openSync(temporary, temporary === target ? 'wx' : 'w');
  try {
    for (const chunk of ref.chunks()) writeFully(fd, chunk);
  } finally {
    fs.closeSync(fd);
  }
  if (temporary !== target) fs.renameSync(temporary, target);
}

/** Callbacks instead of promises: a promise a step costs a third more. */
function writeBeside(bytes: Uint8Array, temporary: string, target: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const fail = (error: Error): void => fs.rm(temporary, { force: true }, () => reject(error));
    const isFinal = temporary === target;
    fs.open(temporary, isFinal ? 'wx' : 'w', (failed, fd) => {
      if (failed) return fail(failed);
      const close = (problem: Error | null): void =>
        fs.close(fd, (closing) => {
          const error = problem ?? closing;
          if (error) return fail(error);
          if (isFinal) return resolve();
          fs.rename(temporary, target, (renaming) => (renaming ? fail(renaming) : resolve()));
        });
      const write = (from: number): void => {
        if (from >= bytes.length) return close(null);
        fs.write(fd, bytes, from, bytes.length - from, from, (problem, count) =>
          problem ? close(problem) : write(from + count),
        );
      };
      write(0);
    });
  });
}
