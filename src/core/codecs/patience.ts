import { FormatError } from '../bytes';

/**
 * How long decoding may take for those who look at what nobody has asked for, as a scan does: a few bytes can stand for hundreds of
 * megabytes, which slow decoders need half a minute for. Whoever asked for the bytes has all the time there is.
 */
export interface Patience {
  /** Milliseconds for one piece of so many stored bytes. */
  forPiece(stored: number): number;
  /** When all of it ends, in milliseconds since 1970. */
  readonly until: number;
}

let patience: Patience | undefined;
let pieceEnds = Infinity;

/** Does something synchronous in which decoders give up with FormatError `budget` when patience ends. */
export function withPatience<T>(given: Patience, work: () => T): T {
  const before = [patience, pieceEnds] as const;
  patience = given;
  pieceEnds = given.until;
  try {
    return work();
  } finally {
    [patience, pieceEnds] = before;
  }
}

/** A piece begins to be decoded. */
export function beginPiece(stored: number): void {
  if (!patience) return;
  pieceEnds = Math.min(patience.until, Date.now() + patience.forPiece(stored));
  requirePatience();
}

/** Asked by decoders now and then; throws FormatError `budget` when it has taken too long. */
export function requirePatience(): void {
  if (pieceEnds !== Infinity && Date.now() > pieceEnds)
    throw new FormatError('budget', {
      why: 'decoding it takes longer than a look is given',
      remedy: 'Extract it where it is wanted; that takes the time it needs',
    });
}
