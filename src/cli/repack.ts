import fs from 'node:fs';
import path from 'node:path';
import { entryAsShown, type Archive, type Entry, type Nested } from '@/core/archive';
import { FormatError, refOfSpan, type BytesRef } from '@/core/bytes';
import {
  planNested,
  proveNested,
  refuseFalse,
  type BuildProof,
  type FilePlan,
  type NestedPlan,
  type Way,
} from '@/core/mod';
import type { ArchiveFile } from '@/core/script';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import { makeFolders } from '@/platform/node/make-folders';
import { stagePlan, type StagedFiles } from '@/platform/node/write-plan';
import type { Output } from './commands';
import { edited, type Edited } from './edits';
import { entriesExtractedAs } from './extract';
import { openGiven, openOptions, requireFile, type OpenArguments, type Opened } from './open';
import { UsageError } from './usage-error';

/** Entries that stay are looked through for damage that they had before, up to this many bytes where nothing is said. */
const LOOKED_THROUGH_BYTES = 64 << 20;
/** Up to this size everything that was copied is compared again. */
const COMPARED_BYTES = 64 << 20;

export interface RepackArguments extends OpenArguments {
  readonly change: string[];
  readonly add: string[];
  readonly remove: string[];
  readonly to: string;
  readonly way: Way;
  /** Entries that were damaged before are carried on. */
  readonly keepDamaged?: boolean;
  /** All entries that stay are looked through, however many bytes they have. */
  readonly lookThrough?: boolean;
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
  const found = archive.entries.filter((entry) =>
    number === undefined ? isCalled(archive, entry, text) : entry.index === Number(number),
  );
  // What extraction called it otherwise.
  return found.length > 0 || number !== undefined ? found : entriesExtractedAs(archive, text);
}

/** Whether an entry has this path; one without a name has it with and without the ending of what it is. */
const isCalled = (archive: Archive, entry: Entry, path: string): boolean =>
  entry.path === path ||
  (!entry.named && path.startsWith(`${entry.path}.`) && entryAsShown(archive, entry).path === path);

export function repack(paths: string[], given: RepackArguments, output: Output): number {
  const changes = given.change.map((text) => parseChange(text));
  const add = given.add.map((text) => parseChange(text, '--add takes PATH=FILE'));
  const several = paths.length > 1;
  if (several && add.length + given.remove.length > 0)
    throw new UsageError('entries are added to one archive at a time, and taken out of one');
  const mains = paths.map((file) =>
    several ? path.join(given.to, path.basename(file.split('//')[0]!)) : given.to,
  );
  const options = openOptions(given);
  const closers: (() => void)[] = [];
  const staged: StagedFiles[] = [];
  const open = (file: string): Opened => {
    const opened = openGiven(file, given, options);
    closers.push(opened.close);
    return opened;
  };
  try {
    const opened = paths.map(open);
    const perArchive = opened.map(({ archive }) => changesFor(archive, changes));
    const unused = changes.find(({ used }) => !used);
    if (unused) throw new UsageError(`no archive has an entry ${unused.target}`);
    const targets = opened.map(({ nested }, i) => targetsOf(outermost(nested), mains[i]!));
    refuseTaken(targets.flatMap((ofArchive) => [...ofArchive.values()]));
    const lines = opened.map((one, i): string[] => {
      const { archive, nested } = one;
      const count = archive.entries.length;
      const edit = edited(archive, perArchive[i]!, { add, remove: given.remove }, (text) =>
        entriesCalled(archive, text),
      );
      const { changes: now, marks } = edit;
      // Editing has changed what was opened, so that the comparison needs it once more as it was.
      const original = marks ? open(paths[i]!).archive : archive;
      const plan = planNested(nested, now, { way: given.way, ...(marks && { edits: marks }) });
      closers.push(() => plan.discard());
      const targetOf = ({ file }: FilePlan): string => targets[i]!.get(file)!;
      for (const file of plan.files) makeFolders(path.dirname(path.resolve(targetOf(file))));
      const written = stagePlan(plan, targetOf, undefined, false);
      staged.push(written);
      const proof = proofOf(one, plan, written, targetOf, { edit, original, given });
      tell(proof, paths[i]!, output);
      refuseDamaged(proof, mains[i]!);
      refuseFalse(proof, mains[i]!);
      const more = marks ? `, ${add.length} added, ${given.remove.length} taken out` : '';
      const changed = `${perArchive[i]!.size} of ${count} entries changed${more}`;
      return plan.files.map((file) => `${targetOf(file)}: ${file.length} bytes, ${changed}`);
    });
    // All or none take their names.
    for (const one of staged.splice(0)) one.keep();
    for (const line of lines.flat()) output.out(line);
    return 0;
  } finally {
    for (const one of staged) one.drop();
    for (const close of closers.reverse()) close();
  }
}

/** What is to be proved beside the plan. */
interface Asked {
  readonly edit: Edited;
  readonly original: Archive;
  readonly given: RepackArguments;
}

/** Opens what was written, before it takes its name, and holds it against what was meant. */
function proofOf(
  { reopen }: Opened,
  plan: NestedPlan,
  written: StagedFiles,
  targetOf: (file: FilePlan) => string,
  { edit, original, given }: Asked,
): BuildProof {
  const sources: FileSource[] = [];
  const openPart = (file: FilePlan): FileSource => {
    const source = openFileSource(written.temporaryOf(file), targetOf(file));
    sources.push(source);
    return source;
  };
  let built: Archive | undefined;
  try {
    built = reopen(0, openPart(plan.files[0]!), (_name, type, number) => {
      const found = plan.files.find(({ file }) => file.type?.name === type && file.number === number);
      return found && openPart(found);
    });
    return proveNested(plan, built, reopen, {
      ...(edit.marks && { edited: edit, original }),
      copied: plan.length > COMPARED_BYTES ? plan : undefined,
      keepDamaged: given.keepDamaged ?? false,
      lookThroughBytes: given.lookThrough ? Infinity : LOOKED_THROUGH_BYTES,
    });
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new FormatError('would-be-wrong', {
      file: targetOf(plan.files[0]!),
      actual: error.message.replace(/\.$/, ''),
      remedy:
        given.way === 'shifted'
          ? 'The script does not say everything that follows from a change; bin/latch prove tells more'
          : 'Try it with --way shifted',
    });
  } finally {
    built?.discard();
    for (const source of sources) source.close();
  }
}

/** Damage of before is the user's to judge. */
function refuseDamaged({ claims, damaged }: BuildProof, file: string): void {
  if (damaged.length === 0 || claims.filter(({ holds }) => !holds).length !== 1) return;
  throw new FormatError('would-be-wrong', {
    file,
    why: `${damaged.length} of the entries that stay ${damaged.length === 1 ? 'was' : 'were'} damaged before anything was changed`,
    remedy:
      'Get the archive anew, replace them or take them out, or carry them on as they are with --keep-damaged',
  });
}

/** What a good result has to be told with. */
function tell({ damaged, filled, leftUnseen }: BuildProof, archive: string, output: Output): void {
  for (const { path: entry, reason } of damaged) output.complain(`${entry} was damaged before: ${reason}`);
  for (const { path: entry, by } of filled)
    output.complain(`${entry} is followed by ${by} filling bytes, since the format has no sizes of its own`);
  if (leftUnseen.entries > 0)
    output.complain(
      `${archive}: ${leftUnseen.entries} entries that stay (${leftUnseen.bytes} bytes) were copied without being looked through for damage they may have had; --look-through does`,
    );
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
