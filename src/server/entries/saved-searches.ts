import { models, SavedSearchRow } from '@/db';

export interface SavedSearch {
  readonly id: number;
  readonly title: string;
  /** Query part of the Contents address, without the question mark. */
  readonly address: string;
}

export async function listSearches(gameId: number): Promise<SavedSearch[]> {
  models();
  const rows = await SavedSearchRow.findAll({ where: { gameId }, order: [['title', 'ASC']] });
  return rows.map(({ id, title, address }) => ({ id, title, address }));
}

/** Keeps a search under its title; one of the same title is replaced. */
export async function keepSearch(gameId: number, search: { title: string; address: string }): Promise<void> {
  models();
  const old = await SavedSearchRow.findOne({ where: { gameId, title: search.title } });
  if (old) await old.update(search);
  else await SavedSearchRow.create({ gameId, ...search });
}

export async function dropSearch(gameId: number, id: number): Promise<void> {
  models();
  await SavedSearchRow.destroy({ where: { id, gameId } });
}
