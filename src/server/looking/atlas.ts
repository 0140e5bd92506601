import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { collect } from '@/core/bytes';
import {
  checkRegions,
  cutRegion,
  findRegions,
  namedApart,
  readRegions,
  type FindOptions,
  type Region,
} from '@/media/picture/core/atlas';
import { decodeAnyText } from '@/media/text/core/encoding';
import { textureOf, toPng } from '@/media/picture/node/pictures';
import { findStack, gameCatalogue } from '../entries/catalogue';
import { basePicture } from '../mods/base-picture';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { wholeEntry } from './preview';
import { mediaScriptFor } from '../opening/scripts';
import { UserError } from '@/platform/user-error';

/** Stands for the frames that a file has by itself, where a list is chosen; no path begins so. */
const OWN_FRAMES = ':frames';

/** Where the parts of a sheet are from: the file itself, a file beside it in the game, or the gaps between them. */
export interface AtlasView {
  readonly width: number;
  readonly height: number;
  readonly regions: readonly Region[];
  /** Pictures of their own in the file, shown on one sheet; 0 for none. */
  readonly frames: number;
  /** Path of the list that told them, `:frames` where the file did; null where they were found by the gaps. */
  readonly list: string | null;
  /** Files beside the sheet that may be its list. */
  readonly lists: readonly string[];
}

const LIST_ENDINGS = ['csv', 'json', 'xml', 'txt', 'tsv', 'atlas', 'regions', 'parts'];
const MOST_LIST_BYTES = 4 * 1024 * 1024;

const stemOf = (path: string): string => path.replace(/\.[^./]*$/, '').toLowerCase();

/** Files that lie in the folder of a sheet and have its name, with the ending of a list. */
async function listsBeside(gameId: number, path: string): Promise<string[]> {
  const game = await gameCatalogue(gameId);
  if (!game) return [];
  const { catalogue } = game;
  const stem = stemOf(path);
  const found: string[] = [];
  for (let row = 0; row < catalogue.count; row++) {
    if (!catalogue.at(row).wins) continue;
    const other = catalogue.path(row);
    if (other.length <= path.length + 12 && other.toLowerCase().startsWith(stem) && other !== path) {
      const rest = other.slice(stem.length).toLowerCase();
      const ending = rest.slice(rest.lastIndexOf('.') + 1);
      if (/^[._-]/.test(rest) && !rest.includes('/') && LIST_ENDINGS.includes(ending)) found.push(other);
    }
  }
  return found.sort();
}

async function listText(gameId: number, path: string): Promise<string> {
  const winner = (await findStack(gameId, path)).find(({ wins }) => wins);
  if (!winner) throw new UserError(404, `${path} is in no open archive.`);
  const { archive, entry } = await openedEntry(gameId, winner.archiveId, winner.index);
  if (entry.size > MOST_LIST_BYTES)
    throw new UserError(
      413,
      `${path} has ${entry.size} bytes; a list of parts is smaller. Choose another one.`,
    );
  return decodeAnyText(collect(archive.plain(entry)))?.text ?? '';
}

/** The parts of a sheet: by the list `list`, by the one that lies beside it, or where that is empty by the gaps. */
export async function atlasOf(
  opened: OpenedEntry,
  modId: number | undefined,
  list: string | undefined,
  options: FindOptions,
): Promise<AtlasView> {
  const { gameId, entry } = opened;
  const lists = await listsBeside(gameId, entry.path);
  const { pixels } = await basePicture(opened, modId);
  const { width, height } = pixels;
  const own = textureOf(wholeEntry(opened), entry.path, mediaScriptFor)?.frames ?? [];
  const about = { width, height, lists, frames: own.length };
  const chosen = list ?? (own.length > 0 ? OWN_FRAMES : (lists[0] ?? ''));
  if (chosen === '') return { ...about, list: null, regions: findRegions(pixels, options) };
  if (chosen === OWN_FRAMES)
    return {
      ...about,
      list: OWN_FRAMES,
      regions: namedApart(
        own.map(({ name, x, y, width: wide, height: high }) => ({ name, x, y, width: wide, height: high })),
      ),
    };
  const regions = readRegions(await listText(gameId, chosen), chosen);
  checkRegions(regions, width, height, chosen);
  return { ...about, list: chosen, regions };
}

/** Parts as pictures of their own, with a list that says where they go. */
export async function cutOut(
  opened: OpenedEntry,
  modId: number | undefined,
  regions: readonly Region[],
): Promise<{ stream: Readable; stem: string }> {
  const { pixels, stem } = await basePicture(opened, modId);
  checkRegions(regions, pixels.width, pixels.height, stem);
  const zip = new yazl.ZipFile();
  const stream = zip.outputStream as Readable;
  zip.on('error', (error) => void stream.destroy(error as Error));
  const names = uniqueNames(regions);
  const rows = regions.map(({ x, y, width, height }, i) => `${names[i]},${x},${y},${width},${height}`);
  zip.addBuffer(Buffer.from(['name,x,y,width,height', ...rows, ''].join('\n')), `${stem}.csv`);
  void (async () => {
    for (const [i, region] of regions.entries())
      zip.addBuffer(await toPng(cutRegion(pixels, region)), `${names[i]}.png`, { compress: false });
    zip.end();
  })().catch((error: unknown) => stream.destroy(error as Error));
  return { stream, stem };
}

/** Names that files can have, each once. */
function uniqueNames(regions: readonly Region[]): string[] {
  const taken = new Set<string>();
  return regions.map(({ name }) => {
    const plain = name.replace(/[^\p{L}\p{N}_. -]+/gu, '_').replace(/^[. ]+|[. ]+$/g, '') || 'part';
    let unique = plain;
    for (let i = 2; taken.has(unique.toLowerCase()); i++) unique = `${plain}_${i}`;
    taken.add(unique.toLowerCase());
    return unique;
  });
}
