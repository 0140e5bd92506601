import fs from 'node:fs';
import path from 'node:path';
import { scriptById, scriptShelf } from '../opening/scripts';
import type { FolderFile, FolderWalk } from './folder-files';
import { withNested } from './known-names';
import type { ArchiveOutcome } from './look-into';
import { isProgramFile, LAUNCHER_PART, looksLikeLauncher } from './programs';
import { versionsInProgram, versionsInText, type Version } from './versions';

/** Where an engine or game version is told. */
export interface Evidence extends Version {
  readonly file: string;
}

/** Something about the folder that the user should know, and what to do about it. */
export interface Note {
  readonly tone: 'good' | 'look' | 'bad';
  readonly what: string;
  readonly why: string;
  readonly next: string;
  /** Folder that should be taken in place of this one. */
  readonly folder?: string;
}

/** What a file was when it was first seen. */
export interface FirstSeen {
  readonly size: number;
  readonly modifiedMs: number;
}

/** What a scan found out about the folder as a whole. */
export interface Findings {
  readonly versions: readonly Evidence[];
  readonly notes: readonly Note[];
  readonly files: number;
  readonly bytes: number;
}

const MOST_TEXT_BYTES = 64 * 1024;
const MOST_PROGRAMS = 4;
const SIDE_FILE =
  /(^|\/)(read ?me|version|build|changelog|release[-_ ]?notes|settings|config|project)[^/]*\.(txt|ini|cfg|json|md|xml)$/i;
const LEFT_BEHIND = /\.(bak|backup|orig|original|old|mod)$/i;

/** Looks at a folder as a whole: versions, what lies wrongly, and marks of earlier changes. */
export function findingsOf(
  folder: string,
  { files, links, closed }: FolderWalk,
  outcomes: readonly ArchiveOutcome[],
  told: readonly Evidence[],
): Findings {
  const notes = [
    ...levelNotes(folder, files, outcomes),
    ...launcherNotes(files),
    ...wrapperNotes(outcomes),
    ...markNotes(files),
    ...emptyHandedNotes(outcomes),
    ...accessNotes(files, links, closed),
  ];
  return {
    versions: [...versionsOfHeads(outcomes), ...told],
    notes,
    files: files.length,
    bytes: files.reduce((sum, { size }) => sum + size, 0),
  };
}

/** "Hold, Peatfire 3" tells of an engine with its version. */
const engineOf = (title: string): RegExpExecArray | null =>
  /,\s*([\p{L}][\p{L}\d .'-]*?)\s*(\d[\d.]*)?$/u.exec(title);

/** The version that the script of an archive is for, as far as its title says. */
export function versionOfScript(id: string): string | undefined {
  const engine = engineOf(scriptById(id)?.title ?? '');
  return engine?.[2] && `${engine[1]} ${engine[2]}`;
}

/** Versions that the heads of archives tell. */
function versionsOfHeads(outcomes: readonly ArchiveOutcome[]): Evidence[] {
  const found: Evidence[] = [];
  const byScript = new Map<string, string[]>();
  for (const { script, path: name } of outcomes)
    if (!byScript.get(script)?.push(name)) byScript.set(script, [name]);
  for (const [id, names] of byScript) {
    const what = versionOfScript(id);
    if (!what) continue;
    found.push({
      what,
      file: names[0]!,
      byteOffset: 0,
      how: `${names.length === 1 ? 'its head is' : `its head and that of ${names.length - 1} more are`} what the script "${scriptById(id)!.title}" describes`,
    });
  }
  return found;
}

/** Versions that programs and the texts beside them tell; the names of engines are looked for that scripts speak of. */
export function versionsOfFiles(folder: string, files: readonly FolderFile[]): Evidence[] {
  const found: Evidence[] = [];
  const engines = new Set(scriptShelf().flatMap(({ script }) => engineOf(script.title)?.[1] ?? []));
  const programs = files.filter((file) => isProgramFile(folder, file)).sort((a, b) => b.size - a.size);
  for (const { path: name } of programs.slice(0, MOST_PROGRAMS))
    for (const version of versionsInProgram(path.join(folder, name), [...engines]))
      found.push({ ...version, file: name });
  for (const { path: name, size } of files) {
    if (!SIDE_FILE.test(name) || size > MOST_TEXT_BYTES) continue;
    try {
      const text = fs.readFileSync(path.join(folder, name), 'utf8');
      for (const version of versionsInText(text, [...engines])) found.push({ ...version, file: name });
    } catch {
      // What cannot be read is among the notes.
    }
  }
  return found;
}

/** A folder above or below the one where the game really is. */
function levelNotes(
  folder: string,
  files: readonly FolderFile[],
  outcomes: readonly ArchiveOutcome[],
): Note[] {
  const tops = new Set(files.map(({ path: name }) => (name.includes('/') ? name.split('/')[0]! : '')));
  if (tops.size === 1 && !tops.has('') && files.length > 0) {
    const [inner] = tops;
    return [
      {
        tone: 'look',
        what: `Everything lies in ${inner}`,
        why: 'Paths of loose files begin with it, which the game does not do',
        next: 'Use the folder below',
        folder: path.join(folder, inner!),
      },
    ];
  }
  if (outcomes.length === 0 || files.some((file) => isProgramFile(folder, file))) return [];
  const above = path.dirname(folder);
  const program = programIn(above);
  return program
    ? [
        {
          tone: 'look',
          what: 'This is a folder within the game',
          why: `There is no program here, but ${program} lies one level up`,
          next: 'Use the folder above',
          folder: above,
        },
      ]
    : [];
}

function programIn(folder: string): string | undefined {
  try {
    return fs
      .readdirSync(folder, { withFileTypes: true })
      .filter((item) => item.isFile())
      .map(({ name }) => ({
        path: name,
        size: fs.statSync(path.join(folder, name), { throwIfNoEntry: false })?.size ?? 0,
        script: undefined,
      }))
      .find((file) => isProgramFile(folder, file))?.path;
  } catch {
    return undefined;
  }
}

function launcherNotes(files: readonly FolderFile[]): Note[] {
  const named = files.filter(({ path: name, size }) => looksLikeLauncher(name) && size > 0);
  return named.flatMap(({ path: name, size }) => {
    const real = files
      .filter(
        (file) =>
          file.path !== name && /\.(exe|bin)$|^[^.]+$/i.test(file.path) && file.size * LAUNCHER_PART > size,
      )
      .sort((a, b) => b.size - a.size)[0];
    return real
      ? [
          {
            tone: 'good' as const,
            what: `${name} is a launcher`,
            why: `It only starts the game, whose program is ${real.path}`,
            next: `Look for keys and versions in ${real.path}`,
          },
        ]
      : [];
  });
}

const wrapperNotes = (outcomes: readonly ArchiveOutcome[]): Note[] =>
  outcomes
    .filter(({ nested }) => nested.length > 0)
    .map(({ path: name, nested }) => {
      const inner = [...withNested(nested)];
      const open = inner.filter(({ state }) => state === 'open').length;
      return {
        tone: open === inner.length ? 'good' : 'look',
        what: `${name} has ${inner.length} ${inner.length === 1 ? 'archive' : 'archives'} in it`,
        why: `It was opened first, then they were; ${open} of ${inner.length} are open`,
        next: 'Their entries are folders of the tree',
      };
    });

const markNotes = (files: readonly FolderFile[]): Note[] =>
  files
    .filter(({ path: name }) => LEFT_BEHIND.test(name))
    .slice(0, 20)
    .map(({ path: name }) => ({
      tone: 'look',
      what: `${name} looks like something kept aside`,
      why: `Somebody may have changed ${name.replace(LEFT_BEHIND, '')} before`,
      next: 'Compare the two before you take the changed one for the original',
    }));

const emptyHandedNotes = (outcomes: readonly ArchiveOutcome[]): Note[] =>
  [...withNested(outcomes)]
    .filter(({ isEmptyHanded }) => isEmptyHanded)
    .map(({ path: name, entries }) => ({
      tone: 'bad',
      what: `${name} is an index without its payload`,
      why: `None of its ${entries} entries lies within the file`,
      next: 'Find the file with the data, which usually bears the same name with another ending',
    }));

function accessNotes(
  files: readonly FolderFile[],
  links: readonly string[],
  closed: readonly string[],
): Note[] {
  const notes: Note[] = [];
  if (links.length > 0)
    notes.push({
      tone: 'look',
      what: `${links.length} ${links.length === 1 ? 'link was' : 'links were'} not followed`,
      why: `${links.slice(0, 3).join(', ')}${links.length > 3 ? ' and more' : ''}: a link may lead out of the folder`,
      next: 'Put the files themselves there if they belong to the game',
    });
  const unread = [...closed, ...files.filter(({ unreadable }) => unreadable).map(({ path: name }) => name)];
  if (unread.length > 0)
    notes.push({
      tone: 'bad',
      what: `${unread.length} ${unread.length === 1 ? 'place' : 'places'} may not be read`,
      why: unread.slice(0, 3).join(', '),
      next: 'Give yourself the right to read them, and scan again',
    });
  return notes;
}

const MOST_CHANGED_SHOWN = 20;

/** Files that are no longer what they were when they were first seen; those installed from here are known. */
export function changedNotes(
  files: readonly FolderFile[],
  first: Readonly<Record<string, FirstSeen>>,
  installed: ReadonlySet<string>,
): Note[] {
  const changed = files.filter(({ path: name, size, modifiedMs }) => {
    const was = first[name];
    return was && !installed.has(name) && (was.size !== size || was.modifiedMs !== modifiedMs);
  });
  return changed.slice(0, MOST_CHANGED_SHOWN).map(({ path: name, size }) => ({
    tone: 'look',
    what: `${name} is not what it was`,
    why:
      first[name]!.size === size
        ? 'It was written anew since the first scan'
        : `It had ${first[name]!.size.toLocaleString('en')} bytes at the first scan and has ${size.toLocaleString('en')} now`,
    next: 'An update or another tool changed it; keys and fits may differ',
  }));
}
