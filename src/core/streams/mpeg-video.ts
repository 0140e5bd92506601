import { FormatError, type BytesRef } from '../bytes';
import { StreamReader } from './reader';
import type { StreamPiece } from './stream-piece';

/** Pictures a second by the number in a sequence's head (ISO 11172-2, 2.4.3.2). */
const RATES = [0, 24_000 / 1001, 24, 25, 30_000 / 1001, 30, 50, 60_000 / 1001, 60];
const PICTURE = 0x00;
const SEQUENCE = 0xb3;
const STEP = 1 << 15;

/** Places of start codes: three bytes 0, 0, 1 and the code. */
function* startCodes(reader: StreamReader): Generator<{ at: number; code: number }> {
  for (let from = 0; from + 4 <= reader.length; from += STEP) {
    const bytes = reader.read(from, Math.min(STEP + 3, reader.length - from), 'stream');
    for (let i = 0; i + 3 < bytes.length && i < STEP; i++)
      if (bytes[i] === 0 && bytes[i + 1] === 0 && bytes[i + 2] === 1)
        yield { at: from + i, code: bytes[i + 3]! };
  }
}

/**
 * The coded pictures of an MPEG-1 or MPEG-2 stream (ISO 11172-2, ISO 13818-2), in the order in which they are stored, one a picture's time apart; heads of sequences and
 * groups go with the picture behind them. Throws FormatError where it does not begin with a sequence, or says no rate.
 */
export function mpegPieces(film: BytesRef): StreamPiece[] {
  const reader = new StreamReader(film);
  const starts: number[] = [];
  let rate: number | undefined;
  let from = 0;
  let hasPicture = false;
  for (const { at, code } of startCodes(reader)) {
    if (code === SEQUENCE && rate === undefined) rate = RATES[reader.read(at, 8, 'sequence')[7]! & 15];
    const begins = code === PICTURE || code === SEQUENCE || code === 0xb8;
    if (begins && hasPicture) {
      starts.push(from);
      from = at;
      hasPicture = false;
    }
    if (code === PICTURE) hasPicture = true;
  }
  if (!rate)
    throw new FormatError('bad-value', {
      ...{
        byteOffset: 0,
        fieldPath: 'sequence',
        expected: 'the head of a sequence with a rate',
        actual: 'none',
      },
      remedy: 'Give it as an elementary stream of MPEG-1 or MPEG-2 video',
    });
  starts.push(from);
  return starts.map((start, i) => ({ length: (starts[i + 1] ?? film.length) - start, seconds: i / rate }));
}
