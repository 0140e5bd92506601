import type { GameCatalogue } from '../entries/catalogue';
import { namedInTexts } from './named-in-texts';
import { filesNamed, type SaidOfFiles } from './named-files';
import type { Reading } from './reading';

type Arranged = Pick<Reading, 'tables' | 'byId' | 'keys' | 'links'>;

/** What tables have to do with files of the game, and programs and scripts with tables, as rows of tables of their own. `said` is what somebody says of fields, by their tables and paths. */
export async function withBeyond(
  gameId: number,
  game: GameCatalogue,
  arranged: Arranged,
  said: ReadonlyMap<string, SaidOfFiles>,
): Promise<Arranged> {
  let { tables, keys, links } = arranged;
  const texts = await namedInTexts(gameId, game, tables, keys);
  if (texts)
    [tables, links] = [
      [...tables, texts.table],
      [...links, ...texts.links],
    ];
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
  return { tables, byId: new Map(tables.map(({ id }, i) => [id, i])), keys, links };
}
