import type { GameCatalogue } from '../entries/catalogue';
import { namedInTexts } from './named-in-texts';
import { filesNamed, type SaidOfFiles } from './named-files';
import type { Reading } from './reading';

type Arranged = Pick<Reading, 'tables' | 'byId' | 'keys' | 'links'>;

const numbered = (tables: Arranged['tables']): Arranged['byId'] =>
  new Map(tables.map(({ id }, i) => [id, i]));

/** Tables with what programs and scripts name of them, as rows of a table of their own. All of these are gone through, once for a game. */
export async function withTexts(gameId: number, game: GameCatalogue, arranged: Arranged): Promise<Arranged> {
  const texts = await namedInTexts(gameId, game, arranged.tables, arranged.keys);
  if (!texts) return arranged;
  const tables = [...arranged.tables, texts.table];
  return { ...arranged, tables, byId: numbered(tables), links: [...arranged.links, ...texts.links] };
}

/** Tables with the files of the game that they name, as rows of a table of their own. `said` is what somebody says of fields, by their tables and paths. */
export function withFiles(
  game: GameCatalogue,
  arranged: Arranged,
  said: ReadonlyMap<string, SaidOfFiles>,
): Arranged {
  let { tables, keys, links } = arranged;
  const followed = links.filter(({ source }) => source !== 'likely' && source !== 'refused');
  const taken = new Set(followed.map(({ from, field }) => `${from} ${field}`));
  const files = filesNamed(
    game,
    tables,
    (table, field) => taken.has(`${table} ${field}`),
    (table, field) => said.get(`${tables[table]!.id} ${tables[table]!.fields[field]!.path}`),
  );
  if (files) {
    const own = new Set(files.links.map(({ from, field }) => `${from} ${field}`));
    tables = [...tables, files.table];
    keys = [...keys, files.key!];
    links = [...links.filter(({ from, field }) => !own.has(`${from} ${field}`)), ...files.links];
  }
  return { tables, byId: numbered(tables), keys, links };
}
