import type { Archive } from '@/core/archive';
import type { FitShown } from '@/core/fit';
import { unitsASecond } from '@/core/mod';
import { UserError } from '@/platform/user-error';
import { modRow, replaceEntry } from '../mods/mods';
import { openedArchive, type OpenedEntry } from '../opening/opened';
import { keepBlob } from '../storage/storage';
import { filmSource, type FilmKey } from './film-source';
import { marksOf, type FilmMark } from './marks';

/** One mark that becomes another one, is added, or taken out; a mark that shows a text; or when one is shown. */
export type MarkChange =
  | { readonly word: string; readonly key: string; readonly from: number; readonly to: number }
  | { readonly was: FilmMark | null; readonly now: FilmMark | null }
  | { readonly key: string; readonly was: number; readonly isGone: true }
  | { readonly key: string; readonly was: number; readonly from: number; readonly to: number };

/** Changes a mark of a film as a mod has it by now; its marks become a change of the mod. What somebody else has changed meanwhile is refused. */
export async function putMark(
  gameId: number,
  { archiveId, index }: FilmKey,
  modId: number,
  change: MarkChange,
): Promise<FitShown> {
  await modRow(gameId, modId);
  const source = await filmSource(gameId, { archiveId, index, mod: modId });
  try {
    const track = source.marks;
    if (!track) throw new UserError(422, `${source.title} has no marks of its own.`);
    const units = unitsASecond(source.opened.archive as Archive, track.entry);
    const word = track.entry.group.film?.subtitles?.word;
    const text = marksWith(marksOf(source), change, { units, word })
      .sort((a, b) => a.seconds - b.seconds)
      .map(({ seconds, text: own }) => `${Math.round(seconds * units)}\t${own}\n`)
      .join('');
    const bytes = new TextEncoder().encode(text);
    const opened = await inFolder(gameId, archiveId, track.entry);
    const name = track.entry.path.slice(track.entry.path.lastIndexOf('/') + 1);
    return await replaceEntry(opened, modId, { name, blob: keepBlob(bytes), size: bytes.length });
  } finally {
    source.close();
  }
}

/** The entry as it lies in the folder now; what is installed may have given it another number. */
async function inFolder(
  gameId: number,
  archiveId: number,
  { index, path }: OpenedEntry['entry'],
): Promise<OpenedEntry> {
  const opened = await openedArchive(gameId, archiveId);
  const { entries } = opened.archive;
  const entry =
    entries[index]?.path === path ? entries[index] : Array.from(entries).find((one) => one.path === path);
  if (!entry) throw new UserError(409, `${path} is no longer in its archive. Scan the folder again.`);
  return { ...opened, entry };
}

interface Written {
  /** Units of time a second. */
  readonly units: number;
  /** What marks that show a text begin with. */
  readonly word: string | undefined;
}

/** What a mark says that shows a text. */
const showing = (word: string, key: string, length: number): string =>
  `${word} ${key} ${Math.max(1, Math.round(length))}`;

/** Marks with one of them changed. Throws UserError where it is not among them any more. */
export function marksWith(
  marks: readonly FilmMark[],
  change: MarkChange,
  { units, word }: Written,
): FilmMark[] {
  const all = [...marks];
  const isAt = (mark: FilmMark, seconds: number): boolean => Math.abs(mark.seconds - seconds) < 0.5 / units;
  const at = (isIt: (mark: FilmMark) => boolean): number => {
    const found = all.findIndex(isIt);
    if (found < 0) throw new UserError(409, 'The marks were changed meanwhile. Look at them again.');
    return found;
  };
  if ('word' in change) {
    const { word: says, key, from, to } = change;
    return [...all, { seconds: from, text: showing(says, key, (to - from) * units) }];
  }
  if ('key' in change) {
    const { key, was } = change;
    const own = at(
      (mark) => isAt(mark, was) && mark.text.split(/\s+/)[0] === word && mark.text.split(/\s+/)[1] === key,
    );
    if ('isGone' in change) all.splice(own, 1);
    else {
      const { from, to } = change;
      all[own] = { seconds: from, text: showing(word ?? '', key, (to - from) * units) };
    }
    return all;
  }
  const { was, now } = change;
  if (was === null) return now === null ? all : [...all, now];
  const own = at((mark) => isAt(mark, was.seconds) && mark.text === was.text);
  all.splice(own, 1, ...(now === null ? [] : [now]));
  return all;
}
