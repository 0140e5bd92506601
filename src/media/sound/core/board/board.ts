import { z } from 'zod';

const Seconds = z.number().min(0).max(86_400);
const Gain = z.number().min(-60).max(60);
const Text = z.string().max(500);

/** A sound of a game, or a stretch of it: by the paths of its archive and its own, so that it outlives scans. */
const clip = {
  game: z.int().positive().max(2_147_483_647),
  archive: z.string().min(1).max(4000),
  path: z.string().min(1).max(4000),
  from: Seconds.optional(),
  to: Seconds.optional(),
  /** In dB. */
  gain: Gain.default(0),
};

/** A clip in a row of others; see `core/edit/join.ts`. */
export const StripClip = z.object({
  ...clip,
  gap: z.number().min(-3600).max(3600).default(0),
  fadeIn: Seconds.default(0),
  fadeOut: Seconds.default(0),
});
export type StripClip = z.infer<typeof StripClip>;

/** A clip on a key. */
export const PadClip = z.object({ ...clip, key: z.string().min(1).max(1), label: Text.default('') });
export type PadClip = z.infer<typeof PadClip>;

/** Keys that a pad has, row by row, as they lie on most keyboards. */
export const PAD_ROWS = ['1234567890', 'qwertyuiop', 'asdfghjkl', 'zxcvbnm'] as const;
export const PAD_KEYS: readonly string[] = PAD_ROWS.flatMap((row) => [...row]);

/** The first key that nothing is on; undefined where all are taken. */
export const freeKey = (clips: readonly PadClip[]): string | undefined =>
  PAD_KEYS.find((key) => !clips.some((one) => one.key === key));

export const StripContent = z.object({ clips: z.array(StripClip).max(500) });
export const PadContent = z
  .object({ clips: z.array(PadClip).max(PAD_KEYS.length) })
  .refine(
    ({ clips }) => new Set(clips.map(({ key }) => key)).size === clips.length,
    'a key has one clip only',
  )
  .refine(({ clips }) => clips.every(({ key }) => PAD_KEYS.includes(key)), 'a key that no pad has');
export type StripContent = z.infer<typeof StripContent>;
export type PadContent = z.infer<typeof PadContent>;

export const BOARD_SORTS = ['strip', 'pad'] as const;
export type BoardSort = (typeof BOARD_SORTS)[number];

/** What a board of a sort holds, checked. Throws ZodError. */
export const contentOf = (sort: BoardSort, content: unknown): StripContent | PadContent =>
  sort === 'strip' ? StripContent.parse(content) : PadContent.parse(content);

/** What a file begins with that a board is shared as. */
const MARK = 'zero latch board';

/** A board as a file: places of sounds, by the titles of their games, and nothing of the games themselves. */
export const SharedBoard = z.object({
  [MARK]: z.literal(1),
  sort: z.enum(BOARD_SORTS),
  title: z.string().min(1).max(200),
  /** Titles of the games that clips are of; `game` of a clip is the number of one, from 1. */
  games: z.array(z.string().min(1).max(200)).max(50),
  clips: z.array(z.record(z.string(), z.unknown())).max(500),
});
export type SharedBoard = z.infer<typeof SharedBoard>;

/** A board to be shared; `titleOf` is asked for the title of each game. */
export function shared(
  { sort, title, content }: { sort: BoardSort; title: string; content: StripContent | PadContent },
  titleOf: (game: number) => string,
): SharedBoard {
  const games: string[] = [];
  const clips = content.clips.map((one) => {
    const own = titleOf(one.game);
    if (!games.includes(own)) games.push(own);
    return { ...one, game: games.indexOf(own) + 1 };
  });
  return { [MARK]: 1, sort, title, games, clips };
}

/** What a board that was shared holds here; `gameOf` is asked for the number of the game of each title. Throws ZodError. */
export const unshared = ({ sort, games, clips }: SharedBoard, gameOf: (title: string) => number) =>
  contentOf(sort, {
    clips: clips.map((one) => ({ ...one, game: gameOf(games[Number(one.game) - 1] ?? '') })),
  });
