import { entryUnder, statedOf, type Entry, type EntryStore, type StoredEntry } from '@/core/archive';
import { FormatError, type BytesRef } from '@/core/bytes';
import { unchanged, type Conversion, type Written } from '@/core/recipe';
import { hashOfRef } from './content-hash';
import { converterOf, type ConvertContext } from './convert';
import type { About, FolderWriter, WriteOutcome } from './folder-writer';
import { besideEntry, describedIn } from './media-scripts';
import type { Seen } from './written-folder';

/** A file that a batch is to write, with what is known of it. Made to be sent between processes. */
export interface BatchTask {
  /** Number of the entry in its archive. */
  readonly index: number;
  readonly path: string;
  readonly file: string;
  readonly conversion: Conversion;
  readonly storedSize: number;
  readonly seen: Seen | null;
  /** What was noted of the file that stands there, where it is ours. */
  readonly old?: Pick<
    Written,
    'source' | 'stated' | 'stored' | 'settings' | 'content' | 'size' | 'modifiedMs' | 'path'
  >;
}

/** What all tasks of a batch share. */
export interface BatchAbout {
  /** Game and recipe, as `game:recipe`. */
  readonly by: string;
  /** Path of the archive below the game folder. */
  readonly archive: string;
  readonly isLoose: boolean;
}

export type TaskState = 'written' | 'skipped' | 'kept' | 'failed';
/** What became of a task, in the order of the tasks. */
export type TaskOutcome = readonly [state: TaskState, reason: string, bytes: number];

/** What is the same while the archive's file and the entry's place in it are; see `Written.source`. */
export const sourceOf = (
  state: string,
  { index, storedSize }: Pick<BatchTask, 'index' | 'storedSize'>,
  isLoose: boolean,
): string => (isLoose ? state : `${state} ${index} ${storedSize}`);

/**
 * Writes what is new or changed of some entries of one archive. `stateOf` says of a task's file what it is now (size and time).
 * A broken entry is an outcome; what concerns the folder or the disk is thrown.
 */
export async function runBatch(
  archive: EntryStore,
  about: BatchAbout,
  tasks: readonly BatchTask[],
  stateOf: (task: BatchTask) => string,
  writer: FolderWriter,
  context: ConvertContext,
): Promise<TaskOutcome[]> {
  const batch = new Batch(archive, about, stateOf, writer, context);
  const outcomes: TaskOutcome[] = [];
  try {
    await batch.all(tasks, (at, outcome) => (outcomes[at] = outcome));
  } catch (error) {
    // What is whole by now keeps its place, if there is still room to note it.
    try {
      writer.settle();
    } catch {
      // The first error says what is wrong.
    }
    throw error;
  }
  writer.settle();
  return outcomes;
}

type Told = (at: number, outcome: TaskOutcome) => void;

/** An entry that has to be written. */
interface Needed {
  readonly at: number;
  readonly task: BatchTask;
  readonly entry: StoredEntry;
  readonly about: About;
  readonly old: Written | undefined;
}

const OUTCOMES: Record<WriteOutcome, (hasOld: boolean, bytes: number) => TaskOutcome> = {
  written: (hasOld, bytes) => ['written', hasOld ? 'changed' : 'new', bytes],
  same: () => ['skipped', 'its content is the same', 0],
  edited: () => ['kept', 'somebody changed the file', 0],
};

class Batch {
  constructor(
    private readonly archive: EntryStore,
    private readonly about: BatchAbout,
    private readonly stateOf: (task: BatchTask) => string,
    private readonly writer: FolderWriter,
    private readonly context: ConvertContext,
  ) {}

  /** Goes through tasks, those together that are converted together. They are told once their files have their names. */
  async all(tasks: readonly BatchTask[], told: Told): Promise<void> {
    for (let from = 0; from < tasks.length;) {
      this.context.check();
      const { conversion } = tasks[from]!;
      const together = converterOf(conversion)?.together ?? 1;
      let end = from + 1;
      while (end < tasks.length && end - from < together && tasks[end]!.conversion === conversion) end++;
      const base = from;
      await this.run(tasks.slice(from, end), (at, outcome) => told(base + at, outcome));
      from = end;
    }
  }

  private async run(tasks: readonly BatchTask[], told: Told): Promise<void> {
    const needed: Needed[] = [];
    for (const [at, task] of tasks.entries())
      this.guarded(at, told, () => {
        const one = this.look(at, task, told);
        if (one) needed.push(one);
      });
    const converter = needed[0] && converterOf(needed[0].task.conversion);
    if (converter)
      await converter.convert(
        needed.map(({ entry }) => ({
          plain: this.plain(entry),
          path: entry.path,
          beside: besideEntry(this.archive, entry.path),
          described: describedIn(this.archive, entry),
        })),
        this.context,
        (i, result) => this.guarded(needed[i]!.at, told, () => this.write(needed[i]!, result, told)),
      );
    else
      for (const one of needed)
        this.guarded(one.at, told, () => this.write(one, this.archive.plain(one.entry), told));
  }

  /** Bytes that are only asked for once the conversion begins, so that a broken entry fails alone. */
  private plain(entry: StoredEntry): BytesRef {
    const { archive } = this;
    return { length: entry.size, chunks: () => archive.plain(entry).chunks() };
  }

  private guarded(at: number, told: Told, work: () => void): void {
    try {
      work();
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      told(at, ['failed', error.message, 0]);
    }
  }

  /** Tells what needs no writing; the answer is what has to be written. */
  private look(at: number, task: BatchTask, told: Told): Needed | undefined {
    const { by, archive: name, isLoose } = this.about;
    const found = this.archive.entries[task.index];
    if (!found)
      throw new FormatError('changed-meanwhile', {
        file: task.path,
        why: 'it is no longer in its archive',
        remedy: 'Scan the folder and run this again',
      });
    const facts = {
      by,
      path: task.path,
      archive: name,
      source: sourceOf(this.stateOf(task), task, isLoose),
      settings: task.conversion,
    };
    const stated = (): string => (isLoose ? '' : statedOf(found as Entry));
    const old = task.old && { ...task.old, by, archive: name, file: task.file };
    let stored = '';
    if (old) {
      const answer = unchanged(old, { ...facts, stated });
      let reason = answer === 'same' ? sameBecause(old.source === facts.source) : undefined;
      if (answer === 'read' && old.stored !== '') {
        stored = hashOfRef(this.archive.stored(found));
        if (stored === old.stored) reason = 'its stored bytes are the same';
      }
      if (reason !== undefined) {
        if (old.source !== facts.source)
          this.writer.note({ ...old, ...facts, stated: stated(), stored: stored || old.stored });
        told(at, ['skipped', reason, 0]);
        return undefined;
      }
    }
    const about = { ...facts, stated: stated(), stored };
    return { at, task, entry: entryUnder(found, task.path), about, old };
  }

  private write({ at, task, entry, about, old }: Needed, content: BytesRef | FormatError, told: Told): void {
    if (content instanceof FormatError) throw content;
    const wantsHash = about.stated === '' && about.stored === '';
    const isStored = wantsHash && task.conversion === 'stored' && this.archive.steps(entry).length === 0;
    const stored = wantsHash && !isStored ? hashOfRef(this.archive.stored(entry)) : about.stored;
    this.writer.write(
      {
        file: task.file,
        content,
        about: { ...about, stored },
        modified: entry.modified,
        seen: task.seen,
        old,
        isStored,
      },
      (outcome, line) => told(at, OUTCOMES[outcome](task.old !== undefined, line.size)),
    );
  }
}

const sameBecause = (isSource: boolean): string =>
  isSource ? 'the archive is as it was' : 'the archive states the same checksum';
