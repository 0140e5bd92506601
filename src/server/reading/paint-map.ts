import { isList, valueWithin } from '@/media/table/core';
import { NO_TILE, placeOfField } from '@/media/table/core/places';
import { UserError } from '@/platform/user-error';
import { modRow } from '../mods/mods';
import { layValues, type CellAnswer, type LaidValue } from './edit-cell';
import { mapOf, mayPaint, readAsMap, stampOf } from './map-view';
import { openReading } from './open-reading';
import { rowTitle } from './reading';
import { tableAt } from './reading-view';

/** Spots of a map that somebody wants to have another tile. */
export interface PaintAsked {
  readonly table: string;
  readonly row: number;
  readonly field: string;
  /** What the layer was told by when it was looked at. */
  readonly stamp: string;
  /** Their numbers, row by row. */
  readonly spots: readonly number[];
  /** What stands for the tile, or for none. */
  readonly value: string | number;
}

export type PaintAnswer = CellAnswer & {
  /** What the layer is told by now. */
  readonly stamp: string;
};

/** Gives spots of a layer another tile, as one step of the mod that can be undone. Tiles are those of the map's own table, or in use on it. */
export async function paintMap(
  gameId: number,
  modId: number,
  { table, row, field, stamp, spots, value }: PaintAsked,
): Promise<PaintAnswer> {
  await modRow(gameId, modId);
  const reading = await openReading(gameId, modId);
  const { number, of } = tableAt(reading, table);
  const found = row < of.count ? mapOf(reading, number) : undefined;
  const map = found && readAsMap(reading, found.words, { table: number, row });
  const layer = map?.layers.find((one) => one.field === field);
  if (!layer) throw new UserError(404, `${table} has no map with a layer ${field} in row ${row + 1}.`);
  const title = rowTitle(reading, number, row);
  if (!mayPaint(of, field))
    throw new UserError(409, `Tiles of ${table} are not changed here: its form is ${of.form}.`);
  if (stampOf(layer.tiles) !== stamp)
    throw new UserError(409, `${field} of ${title} is another one by now. Look at it, and paint it again.`);
  const { column, within } = placeOfField(of.table, field);
  const list = valueWithin(of.table.columns.find(({ name }) => name === column)?.cells[row], within);
  if (!isList(list)) throw new UserError(409, `${field} of ${title} is no list of tiles.`);
  const isTile = layer.table === undefined ? list.includes(value) : layer.values.has(value);
  if (!isTile && value !== layer.none)
    throw new UserError(422, `${value} is no tile that ${title} could have.`);
  const outside = spots.find((spot) => spot >= list.length);
  if (outside !== undefined)
    throw new UserError(422, `${title} has ${list.length} spots; there is no spot ${outside}.`);
  const laid = [...new Set(spots)].flatMap((spot): LaidValue[] =>
    list[spot] === value ? [] : [{ within: [...within, spot], before: list[spot], value }],
  );
  if (laid.length === 0) return { findings: [], isWritten: false, fit: null, stamp };
  const tile = layer.values.get(value);
  const called =
    layer.table === undefined || tile === undefined ? `${value}` : rowTitle(reading, layer.table, tile);
  const what = `${field} of ${title}: ${laid.length === 1 ? 'a spot' : `${laid.length} spots`} of ${called}`;
  const fit = await layValues(gameId, modId, of, { row, column }, laid, what);
  const tiles = layer.tiles.slice();
  for (const { within: place } of laid)
    tiles[place.at(-1) as number] =
      layer.table === undefined && value !== layer.none ? Number(value) : (tile ?? NO_TILE);
  return { findings: [], isWritten: true, fit, stamp: stampOf(tiles) };
}
