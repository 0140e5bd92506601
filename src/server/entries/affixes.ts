import { affixOf, commonAffixes, type Affix, type Code } from '@/core/catalogue';
import { IdTableRow, models } from '@/db';
import { gameCatalogue, type GameCatalogue } from './catalogue';
import { UserError } from '@/platform/user-error';

/** A beginning or end of names, with what it means where the user said so. */
export interface AffixView extends Affix {
  readonly meaning: string;
}

/** The table that these meanings are kept in, one a game. */
const TITLE = 'Beginnings and ends of names';
const ORIGIN = 'said by you';
const MOST_SHOWN = 60;

const tableOf = (gameId: number): Promise<IdTableRow | null> =>
  IdTableRow.findOne({ where: { gameId, title: TITLE, origin: ORIGIN } });

/** Beginnings and ends that many names of a game share, those first that have a meaning. */
export async function listAffixes(gameId: number): Promise<AffixView[]> {
  models();
  const game = await gameCatalogue(gameId);
  const said = new Map(((await tableOf(gameId))?.codes ?? []) as Code[]);
  const common = game ? affixesOf(game) : [];
  const known = new Set(common.map(({ affix }) => affix));
  const others = [...said.keys()]
    .filter((affix) => !known.has(affix))
    .map((affix): Affix => ({ affix, count: 0, kind: 'data', example: '' }));
  return [...common, ...others]
    .map((one) => ({ ...one, meaning: said.get(one.affix) ?? '' }))
    .sort((a, b) => Number(b.meaning !== '') - Number(a.meaning !== '') || b.count - a.count);
}

declare global {
  var zeroLatchAffixes: { stamp: string; affixes: Affix[] } | undefined;
}

/** Those of the game that was asked for last are kept: of a million names they take a second or two. */
function affixesOf({ catalogue, stamp }: GameCatalogue): Affix[] {
  if (globalThis.zeroLatchAffixes?.stamp !== stamp)
    globalThis.zeroLatchAffixes = { stamp, affixes: commonAffixes(catalogue, MOST_SHOWN) };
  return globalThis.zeroLatchAffixes.affixes;
}

/** Says what a beginning (`vo_*`) or an end (`*_hull`) of names means; an empty meaning takes it away. */
export async function sayAffix(gameId: number, affix: string, meaning: string): Promise<void> {
  models();
  if (!affixOf(affix))
    throw new UserError(
      422,
      `${affix} is no beginning or end of names. Write it as vo_* or *_hull, with one star.`,
    );
  const row = await tableOf(gameId);
  const codes = ((row?.codes ?? []) as Code[]).filter(([code]) => code !== affix);
  if (meaning !== '') codes.push([affix, meaning]);
  // A new row each time, since what is kept of the tables goes by their numbers; the old one goes once the new one is there.
  if (codes.length > 0) await IdTableRow.create({ gameId, title: TITLE, origin: ORIGIN, codes });
  await row?.destroy();
}
