import { factsOfTables, type Catalogue, type Code, type MoreColumns } from '@/core/catalogue';
import { IdTableRow } from '@/db';

/** Which tables a catalogue was last told of; while that is worked out, what comes of it. */
const TOLD = new WeakMap<Catalogue, { readonly stamp: string; readonly done: Promise<void> }>();

const others = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** Has a catalogue know what the tables of codes of its game say besides names. Gives a stamp that changes whenever that does. */
export async function tellFacts(gameId: number, scan: string, catalogue: Catalogue): Promise<string> {
  const ids = await IdTableRow.findAll({
    where: { gameId },
    attributes: ['id'],
    order: [['id', 'ASC']],
    raw: true,
  });
  const stamp = `${scan} ${ids.map(({ id }) => id).join()}`;
  const known = TOLD.get(catalogue);
  if (known?.stamp === stamp) {
    await known.done;
    return stamp;
  }
  if (!known && ids.length === 0) return stamp;
  const done = tell(gameId, catalogue);
  TOLD.set(catalogue, { stamp, done });
  try {
    await done;
  } catch (error) {
    TOLD.delete(catalogue);
    throw error;
  }
  return stamp;
}

async function tell(gameId: number, catalogue: Catalogue): Promise<void> {
  const rows = await IdTableRow.findAll({ where: { gameId }, order: [['id', 'ASC']] });
  const tables = rows.flatMap(({ codes, more }) =>
    more ? [{ codes: codes as Code[], more: more as MoreColumns }] : [],
  );
  catalogue.tell(await factsOfTables(catalogue, tables, others));
}
