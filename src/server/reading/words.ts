import { ReadingWordsRow } from '@/db';
import { FormatError } from '@/core/bytes';
import { parseValueNames, VALUES_OF, type ValueNames } from '@/media/table/core';
import { PARTS_OF, parsePartsWords, type PartsWords } from '@/media/table/core/levels';
import { MAP_OF, parseMapWords, type MapWords } from '@/media/table/core/places';
import { parseVocabulary, type Vocabulary } from '@/media/table/core/steps';
import { UserError } from '@/platform/user-error';

/** A vocabulary, what says how a table is a map, or what numbers are called, as it is kept. */
export interface KeptWords {
  /** The table and field that it reads, or the table that is a map. */
  readonly about: string;
  readonly text: string;
}

const aboutOf = ({ table, field }: Vocabulary): string => `${table}.${field}`;

/** What a text of words is about, by what it begins with below its notes. */
function sortOf(text: string): 'map' | 'parts' | 'values' | 'steps' {
  const [, begins] = /^\s*(?:#[^\n]*\n\s*)*(map of|parts of|values of)\s*:/.exec(text) ?? [];
  return begins === MAP_OF
    ? 'map'
    : begins === PARTS_OF
      ? 'parts'
      : begins === VALUES_OF
        ? 'values'
        : 'steps';
}

function aboutIn(text: string): string {
  const sort = sortOf(text);
  if (sort === 'map') return `${MAP_OF} ${parseMapWords(text).table}`;
  if (sort === 'parts') return `${PARTS_OF} ${parsePartsWords(text).table}`;
  if (sort === 'steps') return aboutOf(parseVocabulary(text));
  const { table, field } = parseValueNames(text);
  return `${VALUES_OF} ${table}.${field}`;
}

export async function listWords(gameId: number): Promise<KeptWords[]> {
  const rows = await ReadingWordsRow.findAll({ where: { gameId }, order: [['about', 'ASC']], raw: true });
  return rows.map(({ about, text }) => ({ about, text }));
}

/** Keeps a vocabulary for a game, in the place of one for the same field. Throws UserError with line and column where it is wrong. */
export async function keepWords(gameId: number, text: string): Promise<{ about: string }> {
  const about = parsed(() => aboutIn(text));
  await ReadingWordsRow.upsert({ gameId, about, text }, { conflictFields: ['game_id', 'about'] as never });
  return { about };
}

function parsed<T>(parse: () => T): T {
  try {
    return parse();
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new UserError(422, error.message);
  }
}

export async function dropWords(gameId: number, about: string): Promise<void> {
  const gone = await ReadingWordsRow.destroy({ where: { gameId, about } });
  if (gone === 0) throw new UserError(404, `There are no words for ${about}.`);
}

/** The vocabularies of a game, as they are read. */
export const vocabulariesOf = (kept: readonly KeptWords[]): Vocabulary[] =>
  kept.flatMap(({ text }) => (sortOf(text) === 'steps' ? [parseVocabulary(text)] : []));

/** What somebody says of maps of a game. */
export const mapWordsOf = (kept: readonly KeptWords[]): MapWords[] =>
  kept.flatMap(({ text }) => (sortOf(text) === 'map' ? [parseMapWords(text)] : []));

/** What somebody says of parts that levels are put together from. */
export const partsWordsOf = (kept: readonly KeptWords[]): PartsWords[] =>
  kept.flatMap(({ text }) => (sortOf(text) === 'parts' ? [parsePartsWords(text)] : []));

/** What somebody says that numbers of fields are called. */
export const valueNamesOf = (kept: readonly KeptWords[]): ValueNames[] =>
  kept.flatMap(({ text }) => (sortOf(text) === 'values' ? [parseValueNames(text)] : []));

/** What a table is called without folder and ending. */
export const shortName = (id: string): string => id.replace(/^.*[/#]/, '').replace(/\.[^.]*$/, '');

/** Whether a table is the one that is said by a name: by its path, or by that without folder and ending. */
export function isTable(id: string, said: string): boolean {
  const [low, wanted] = [id.toLowerCase(), said.toLowerCase()];
  return low === wanted || shortName(low) === wanted;
}
