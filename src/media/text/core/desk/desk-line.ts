import type { LengthLimit } from '../lines';

/** What tells a line of a game apart: its table, by what that is called in every language, its key, and which of namesakes it is. */
export interface LineId {
  readonly place: string;
  readonly key: string;
  readonly nth: number;
}

export const idOf = ({ place, key, nth }: LineId): string => `${place}\0${key}\0${nth}`;

/** A line of a game in the languages that stand side by side. */
export interface DeskLine extends LineId {
  readonly source: string | undefined;
  /** What the game has in the language that is worked on; undefined where it has nothing. */
  readonly was: string | undefined;
  /** In further languages that are looked at beside it. */
  readonly others: readonly (string | undefined)[];
  readonly speaker: string;
  readonly note: string;
  readonly limit: LengthLimit | undefined;
  /** How wide it may be drawn, and with which font. */
  readonly width?: number | undefined;
  readonly font?: string | undefined;
  /** Whether another line of its table has the same key. */
  readonly isTwice: boolean;
}

/** How far a line is: as it was last left by whoever worked on it. */
export const LINE_STATES = ['draft', 'done', 'reviewed'] as const;
export type LineState = (typeof LINE_STATES)[number];

/** What was made of a line. */
export interface LineWork {
  readonly text: string;
  readonly state: LineState;
  readonly by: string;
  readonly at: string;
}

/** The text that a line has now. */
export const textNow = ({ was }: DeskLine, work: LineWork | undefined): string => work?.text ?? was ?? '';

/** Whether the mod has another text than the game. */
export const isChanged = (line: DeskLine, work: LineWork | undefined): boolean =>
  work !== undefined && work.text !== (line.was ?? '');
