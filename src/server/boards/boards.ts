import { z } from 'zod';
import {
  BOARD_SORTS,
  contentOf,
  shared,
  SharedBoard,
  unshared,
  type BoardSort,
  type PadContent,
  type StripContent,
} from '@/media/sound/core/board';
import { BoardRow, GameRow, models } from '@/db';
import { notFound, UserError } from '@/platform/user-error';
import { placesOf, type ClipPlace } from './clip-places';

export const BoardTitle = z.string().trim().min(1).max(200);
export const NewBoard = z.object({ sort: z.enum(BOARD_SORTS), title: BoardTitle });
export const BoardChange = z.object({
  title: BoardTitle.optional(),
  content: z.unknown().optional(),
  /** The one that was changed; another page may have changed it since. */
  version: z.int().positive(),
});

/** A board as lists show it. */
export interface BoardItem {
  readonly id: number;
  readonly sort: BoardSort;
  readonly title: string;
  readonly count: number;
  readonly version: number;
}

export interface BoardView extends BoardItem {
  readonly content: StripContent | PadContent;
  /** Where each of its clips is now, in their order. */
  readonly places: readonly ClipPlace[];
}

const contentIn = ({ sort, content }: BoardRow): StripContent | PadContent => contentOf(sort, content);

const itemOf = (row: BoardRow): BoardItem => ({
  ...{ id: row.id, sort: row.sort, title: row.title, version: row.version },
  count: contentIn(row).clips.length,
});

export async function listBoards(): Promise<BoardItem[]> {
  models();
  return (
    await BoardRow.findAll({
      order: [
        ['title', 'ASC'],
        ['id', 'ASC'],
      ],
    })
  ).map(itemOf);
}

async function boardRow(id: number): Promise<BoardRow> {
  models();
  const row = await BoardRow.findByPk(id);
  if (!row) throw notFound('The board');
  return row;
}

async function viewOf(row: BoardRow): Promise<BoardView> {
  const content = contentIn(row);
  return { ...itemOf(row), content, places: await placesOf(content.clips) };
}

export const findBoard = async (id: number): Promise<BoardView> => viewOf(await boardRow(id));

export async function addBoard({ sort, title }: z.infer<typeof NewBoard>): Promise<BoardView> {
  models();
  return viewOf(await BoardRow.create({ sort, title, content: { clips: [] } }));
}

/** Changes a board, unless somebody else changed it meanwhile. */
export async function changeBoard(
  id: number,
  { title, content, version }: z.infer<typeof BoardChange>,
): Promise<BoardView> {
  const row = await boardRow(id);
  const change = {
    ...(title !== undefined && { title }),
    ...(content !== undefined && { content: contentOf(row.sort, content) }),
  };
  const [changed] = await BoardRow.update({ ...change, version: version + 1 }, { where: { id, version } });
  if (changed === 0)
    throw new UserError(
      409,
      `${row.title} was changed elsewhere meanwhile. It is shown as it is now; do it again.`,
    );
  return findBoard(id);
}

export async function removeBoard(id: number): Promise<void> {
  models();
  if ((await BoardRow.destroy({ where: { id } })) === 0) throw notFound('The board');
}

/** A board as it is shared: places of sounds by the titles of their games. */
export async function sharedBoard(id: number): Promise<{ name: string; text: string }> {
  const row = await boardRow(id);
  const titles = new Map((await GameRow.findAll()).map((game) => [game.id, game.title]));
  const { sort, title } = row;
  const board = shared(
    { sort, title, content: contentIn(row) },
    (game) => titles.get(game) ?? `Game ${game}`,
  );
  return {
    name: `${title.replace(/[^\p{L}\p{N} _-]+/gu, '-')}.${sort}.json`,
    text: `${JSON.stringify(board, null, 2)}\n`,
  };
}

/** Takes a board in that was shared. Clips of games that are not here by their titles are taken for ones of `otherwise`. */
export async function takeBoard(given: unknown, otherwise: number | undefined): Promise<BoardView> {
  models();
  const parsed = SharedBoard.safeParse(given);
  if (!parsed.success)
    throw new UserError(422, `This is no board: ${z.prettifyError(parsed.error).slice(0, 400)}`);
  const games = new Map((await GameRow.findAll()).map(({ id, title }) => [title.toLowerCase(), id]));
  const { sort, title } = parsed.data;
  const gameOf = (wanted: string): number => {
    const found = games.get(wanted.toLowerCase()) ?? otherwise;
    if (found === undefined)
      throw new UserError(
        409,
        `Its clips are of ${wanted || 'a game without a title'}, and no game here is called so. Say which one they are to be taken from.`,
      );
    return found;
  };
  let content: StripContent | PadContent;
  try {
    content = unshared(parsed.data, gameOf);
  } catch (error) {
    if (!(error instanceof z.ZodError)) throw error;
    throw new UserError(422, `This is no board: ${z.prettifyError(error).slice(0, 400)}`);
  }
  return viewOf(await BoardRow.create({ sort, title, content }));
}
