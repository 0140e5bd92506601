import { LRUCache } from 'lru-cache';
import { FormatError } from '@/core/bytes';
import { TongueIndex } from '@/core/catalogue';
import { codeOfKind } from '@/core/kinds';
import { ChangeRow } from '@/db';
import { isFontFor, type FontSigns } from '@/media/font/core';
import { fontNode, fontOf } from '@/media/font/node';
import type { NamedFont } from '@/media/text/core/lines';
import { recordOf, type GameCatalogue } from '../entries/catalogue';
import { bytesInMod } from '../mods/bytes-in-mod';
import { openedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';

/** More fonts than these, and larger ones, are not asked what they have. */
const MOST_FONTS = 40;
const MOST_FONT_BYTES = 64 << 20;
/** A text of so many signs tells which fonts are for texts. */
const MOST_SAMPLE = 20_000;

/** A font of a game as a mod has it. */
export interface GameFont extends NamedFont {
  readonly path: string;
  /** Whether texts like those of the game are drawn with it, and not icons or numbers only. */
  readonly isForTexts: boolean;
}

declare global {
  var zeroLatchFonts: LRUCache<string, FontSigns> | undefined;
}
/** Read fonts that are kept. */
const MOST_KEPT = 64;

/** Changes with the fonts that a mod brings. */
export async function fontsStamp(modId: number): Promise<string> {
  const rows = await ChangeRow.findAll({
    where: { modId, kind: fontNode.kind },
    attributes: ['preparedBlob'],
    order: [['id', 'ASC']],
    raw: true,
  });
  return rows.map(({ preparedBlob }) => preparedBlob ?? '').join();
}

/** The fonts that a game draws a language with: of one that it has in several languages that of the language. Fonts that cannot be read are none. */
export async function fontsOf(
  gameId: number,
  modId: number,
  game: GameCatalogue,
  tongue: string,
  texts: Iterable<string>,
): Promise<GameFont[]> {
  const { catalogue } = game;
  const { kinds, sizes } = catalogue.columns;
  const font = codeOfKind(fontNode.kind);
  const rows: [row: number, path: string][] = [];
  for (let row = 0; row < catalogue.count && rows.length < MOST_FONTS; row++)
    if (kinds[row] === font && catalogue.wins[row] !== 0 && sizes[row]! <= MOST_FONT_BYTES)
      rows.push([row, catalogue.path(row)]);
  if (rows.length === 0) return [];
  const index = new TongueIndex(rows);
  const sample = sampleOf(texts);
  const found: GameFont[] = [];
  for (const [row, path] of rows) {
    const inTongues = index.of(path).rows;
    const wanted = inTongues.get(tongue) ?? inTongues.get('');
    if (wanted !== undefined && wanted !== row) continue;
    const read = await readFont(gameId, modId, game, row);
    if (!read) continue;
    const name = path.slice(path.lastIndexOf('/') + 1);
    found.push({ path, name, font: read, isForTexts: isFontFor(read, sample) });
  }
  return found;
}

function sampleOf(texts: Iterable<string>): string {
  let sample = '';
  for (const text of texts) if ((sample += text).length > MOST_SAMPLE) break;
  return sample;
}

async function readFont(
  gameId: number,
  modId: number,
  game: GameCatalogue,
  row: number,
): Promise<FontSigns | undefined> {
  const { archiveId, index, path } = recordOf(game, row);
  const kept = (globalThis.zeroLatchFonts ??= new LRUCache<string, FontSigns>({ max: MOST_KEPT }));
  const name = `${gameId} ${archiveId} ${index} ${game.scan} ${modId} ${await fontsStamp(modId)}`;
  const known = kept.get(name);
  if (known) return known;
  try {
    const bytes = await bytesInMod(await openedEntry(gameId, archiveId, index), modId, MOST_FONT_BYTES);
    const font = fontOf(bytes, path, mediaScriptFor);
    if (font) kept.set(name, font);
    return font;
  } catch (error) {
    if (error instanceof FormatError || (error instanceof Error && error.name === 'UserError'))
      return undefined;
    throw error;
  }
}
