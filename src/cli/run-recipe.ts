import { START_BYTES, tellKind, type Kind } from '@/core/kinds';
import fs from 'node:fs';
import path from 'node:path';
import { type Archive, type EntryStore } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import {
  Catalogue,
  FLAG,
  findRows,
  LineSearch,
  listArchive,
  ListingBuilder,
  mergeListings,
  pageOf,
  parseQuery,
  type Listing,
} from '@/core/catalogue';
import { nameOf, RecipeFile, type Recipe } from '@/core/recipe';
import { conversionOf, converterOf } from '@/platform/node/convert';
import { TargetNames } from '@/platform/node/extract-files';
import { openFileSource } from '@/platform/node/file-source';
import { FolderWriter } from '@/platform/node/folder-writer';
import { looseEntry, looseStore } from '@/platform/node/loose-store';
import { planTask } from '@/platform/node/plan-task';
import { runBatch, sourceOf, type BatchTask } from '@/platform/node/run-batch';
import { LOG_NAME, logText, summaryOf, type ItemState, type RunItem } from '@/platform/node/run-log';
import { mediaScriptsOn } from '@/platform/node/media-scripts';
import { kindRulesOf, readShelf, scriptsFor } from '@/platform/node/script-shelf';
import { WrittenFolder } from '@/platform/node/written-folder';
import type { Output } from './commands';
import { openGiven, openOptions, requireFile, type OpenArguments } from './open';
import { UsageError } from './usage-error';

export interface RunArguments extends OpenArguments {
  readonly to?: string;
  readonly json?: boolean;
}

/** What can be read like an archive: one that was opened, or the files of a folder that are none. */
interface Store {
  /** As the log and the ledger call it. */
  readonly name: string;
  readonly store: EntryStore;
  readonly listing: Listing;
  /** Size and time of the file, or of a loose file by its path. */
  readonly state: (path: string) => string;
  readonly isLoose: boolean;
  close(): void;
}

/** Batches that the ledger takes in at a time. */
const BATCH = 256;
const shelf = readShelf();
const archiveScriptIn = (file: string): boolean => {
  const source = openFileSource(file);
  try {
    return scriptsFor(source, shelf).some(({ script }) => !script.isForFiles);
  } finally {
    source.close();
  }
};

function stateOf(file: string): string {
  const { size, mtimeMs } = fs.statSync(file);
  return `${size} ${Math.round(mtimeMs)}`;
}

function recipeIn(file: string): Recipe {
  requireFile(file);
  let read: unknown;
  try {
    read = JSON.parse(fs.readFileSync(file, 'utf8'));
  } catch (error) {
    throw new UsageError(`${file}: it is no recipe: it is no JSON (${(error as Error).message})`);
  }
  const parsed = RecipeFile.safeParse(read);
  if (parsed.success) return parsed.data.recipe;
  const [first] = parsed.error.issues;
  throw new UsageError(`${file}: it is no recipe: ${first!.path.join('.') || 'the file'}: ${first!.message}`);
}

/** All files below a folder, in the order of their paths; links are not followed. */
function filesBelow(folder: string): string[] {
  return fs
    .readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)).split(path.sep).join('/'))
    .sort();
}

function archiveStore(file: string, name: string, given: OpenArguments): Store {
  const opened = openGiven(file, given, openOptions(given));
  const state = stateOf(file.split('//')[0]!);
  return {
    name,
    store: opened.archive as Archive & EntryStore,
    listing: listArchive(opened.archive, { rules: kindRulesOf(shelf) }),
    state: () => state,
    isLoose: false,
    close: () => opened.close(),
  };
}

function kindOfFile(at: string, name: string): Kind {
  const source = openFileSource(at);
  try {
    const bytes = source.read(0, Math.min(START_BYTES, source.length));
    return tellKind(name, { bytes, length: source.length }, kindRulesOf(shelf)).kind;
  } finally {
    source.close();
  }
}

function looseOf(folder: string, files: readonly string[]): Store {
  const builder = new ListingBuilder(files.length);
  const entries = files.map((file, index) => {
    const { size, mtimeMs } = fs.statSync(path.join(folder, file));
    const facts = { path: file, size, modified: mtimeMs / 1000 };
    builder.add({
      ...facts,
      stored: size,
      kind: kindOfFile(path.join(folder, file), file),
      hash: undefined,
      flags: FLAG.named,
      problem: undefined,
    });
    return looseEntry(index, facts);
  });
  return {
    name: '.',
    store: looseStore(fs.realpathSync(folder), entries),
    listing: builder.done(),
    state: (file) => stateOf(path.join(folder, file)),
    isLoose: true,
    close: () => undefined,
  };
}

/** Opens archives and folders in the order they are given; one that cannot be opened is said, and the others go on. */
function openAll(
  paths: readonly string[],
  given: OpenArguments,
  output: Output,
): { stores: Store[]; isWhole: boolean } {
  const stores: Store[] = [];
  let isWhole = true;
  const open = (file: string, name: string): void => {
    try {
      stores.push(archiveStore(file, name, given));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      output.complain(error.message);
      isWhole = false;
    }
  };
  for (const one of paths) {
    if (!fs.statSync(one, { throwIfNoEntry: false })?.isDirectory()) {
      open(one, path.basename(one));
      continue;
    }
    const files = filesBelow(one);
    const archives = new Set(files.filter((file) => archiveScriptIn(path.join(one, file))));
    stores.push(
      looseOf(
        one,
        files.filter((file) => !archives.has(file)),
      ),
    );
    for (const file of archives) open(path.join(one, file), file);
  }
  return { stores, isWhole };
}

/** All entries in one tree; of namesakes the one of the later archive answers. */
function catalogueOf(stores: readonly Store[]): Catalogue {
  const { lines, ends, ...columns } = mergeListings(stores.map(({ listing }) => listing));
  const search = new LineSearch(lines.length, columns.count);
  search.lines.set(lines);
  search.ends.set(ends);
  const catalogue = new Catalogue(search, columns);
  catalogue.settle(stores.map((_store, i) => i));
  return catalogue;
}

function pickRows(
  catalogue: Catalogue,
  { pick }: Recipe,
  stores: readonly Store[],
): { rows: number[]; missing: string[] } {
  if ('paths' in pick) {
    const found = pick.paths.map((one) => catalogue.stack(one).find((row) => catalogue.wins[row] === 1));
    return {
      rows: [...new Set(found.filter((row) => row !== undefined))],
      missing: pick.paths.filter((_one, i) => found[i] === undefined),
    };
  }
  const terms = parseQuery(pick.kind ? `${pick.search} kind:${pick.kind}` : pick.search);
  const wanted = { folder: pick.folder, terms, archive: undefined };
  const mask = findRows(catalogue, wanted, { archives: stores.map(({ name }) => name) });
  const page = { sort: 'path', isDescending: false, offset: 0, limit: catalogue.count } as const;
  return { rows: [...pageOf(catalogue, mask, page)], missing: [] };
}

/**
 * Runs a recipe from a file over archives and folders, without the application. Writes only what is new or changed; the folder's
 * ledger is the one that the application keeps.
 */
export async function runRecipe(
  file: string,
  paths: readonly string[],
  given: RunArguments,
  output: Output,
): Promise<number> {
  const recipe = recipeIn(file);
  const target = path.resolve(given.to ?? recipe.folder);
  const parent = path.dirname(target);
  if (!fs.existsSync(parent))
    throw new UsageError(`${parent} is not there. Make it first, or choose another --to`);
  for (const one of paths)
    if (
      fs.existsSync(one) &&
      !path
        .relative(fs.realpathSync(one), path.join(fs.realpathSync(parent), path.basename(target)))
        .startsWith('..')
    )
      throw new UsageError(`${target} lies in ${one}. Choose a place outside of the game with --to`);
  if (recipe.convert.archive === 'unpacked')
    output.complain(
      'Archives within archives are taken as they are on the command line; give one as OUTER//ENTRY to unpack it.',
    );
  const { stores, isWhole } = openAll(paths, given, output);
  try {
    const items = await runOver(stores, recipe, target);
    const counts = { written: 0, skipped: 0, kept: 0, failed: 0, missing: 0 } satisfies Record<
      ItemState,
      number
    >;
    for (const item of items) {
      counts[item.state]++;
      if (given.json) output.out(JSON.stringify(item));
      else if (item.state === 'failed' || item.state === 'missing' || item.state === 'kept')
        output.complain(`${item.path}: ${item.reason}`);
    }
    if (!given.json) output.out(`${summaryOf(counts)} The log is ${path.join(target, LOG_NAME)}.`);
    return isWhole && counts.failed + counts.missing === 0 ? 0 : 1;
  } finally {
    for (const { close } of stores) close();
  }
}

async function runOver(stores: readonly Store[], recipe: Recipe, target: string): Promise<RunItem[]> {
  const catalogue = catalogueOf(stores);
  const { rows, missing } = pickRows(catalogue, recipe, stores);
  const items: RunItem[] = missing.map((one) => ({
    ...{ state: 'missing', path: one, archive: '', file: '', reason: 'no archive that was given has it' },
  }));
  const names = new TargetNames();
  names.take(LOG_NAME);
  const out = new WrittenFolder(target);
  const writer = new FolderWriter(out.root, `cli-${process.pid}`);
  // As the application calls an extraction of a game that it does not know.
  const by = `0:${recipe.title}`;
  try {
    const work = new Map<Store, BatchTask[]>();
    for (const row of rows) {
      const at = catalogue.at(row);
      const one = stores[at.archive]!;
      const conversion = conversionOf(recipe, at.kind);
      const facts = { path: at.path, archive: one.name, number: at.number, hash: at.hash ?? null, alias: '' };
      const wanted = names.take(nameOf(recipe, facts, converterOf(conversion)?.ending));
      const index = at.number;
      const source = sourceOf(one.state(at.path), { index, storedSize: at.stored }, one.isLoose);
      const planned = planTask(
        out,
        { index, path: at.path, storedSize: at.stored, file: wanted, by, source, conversion },
        recipe.edited,
      );
      if ('told' in planned)
        items.push({
          state: planned.told,
          path: at.path,
          archive: one.name,
          file: wanted,
          reason: planned.reason,
        });
      else if (!work.get(one)?.push(planned)) work.set(one, [planned]);
    }
    const context = {
      mediaScripts: mediaScriptsOn(shelf),
      check: () => undefined,
    };
    for (const [one, tasks] of work)
      for (let from = 0; from < tasks.length; from += BATCH) {
        const batch = tasks.slice(from, from + BATCH);
        const about = { by, archive: one.name, isLoose: one.isLoose };
        const outcomes = await runBatch(
          one.store,
          about,
          batch,
          (task) => one.state(task.path),
          writer,
          context,
        );
        for (const [i, [state, reason]] of outcomes.entries()) {
          const task = batch[i]!;
          items.push({ state, path: task.path, archive: one.name, file: task.file, reason });
        }
      }
    return items;
  } finally {
    writer.close();
    if (fs.existsSync(out.root)) out.text(LOG_NAME, logText(items));
    out.close();
  }
}
