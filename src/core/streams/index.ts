import type { BytesRef } from '../bytes';
import { ivfPieces } from './ivf';
import { linePieces } from './lines';
import { mpegPieces } from './mpeg-video';
import { oggPieces } from './ogg';
import type { StreamPiece } from './stream-piece';

export { markLines, type MarkLine } from './lines';
export type { StreamPiece } from './stream-piece';

/** How streams fall into pieces, by the word for it in scripts. */
const CUTS = {
  ivf: ivfPieces,
  ogg: oggPieces,
  'mpeg-video': mpegPieces,
  lines: linePieces,
} satisfies Record<string, (stream: BytesRef, perSecond: number) => StreamPiece[]>;

export type StreamCut = keyof typeof CUTS;
export const STREAM_CUTS = Object.keys(CUTS) as StreamCut[];

/**
 * Cuts a stream where one piece of it ends: a picture, a page of sound, a line. `perSecond` is the unit of times that are written in the stream
 * itself. Lengths add up to that of the stream. Throws FormatError where the stream is another one or damaged.
 */
export const cutStream = (cut: StreamCut, stream: BytesRef, perSecond: number): StreamPiece[] =>
  CUTS[cut](stream, perSecond);
