import { collect, FormatError, type BytesRef } from '../bytes';
import { beginPiece, type Codec } from '../codecs';
import type { Primitives } from '../primitives';
import type { Settings } from '../settings';

/** What has to be held whole for a codec without blocks. */
export const MOST_WHOLE_BYTES = 256 * 1024 * 1024;

export function whole(ref: BytesRef): Uint8Array {
  if (ref.length > MOST_WHOLE_BYTES)
    throw new FormatError('budget', {
      expected: `at most ${MOST_WHOLE_BYTES} bytes in one piece`,
      actual: `${ref.length}`,
      why: 'the codec works on whole payloads',
    });
  return collect(ref);
}

/** Decodes one piece; whatever a codec throws becomes a FormatError `codec-failed`. */
export function decodePiece(
  codec: Codec,
  stored: Uint8Array,
  limit: number,
  primitives: Primitives,
  settings: Settings,
): Uint8Array {
  try {
    beginPiece(stored.length);
    return codec.decode(stored, limit, primitives, settings);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError('codec-failed', {
      why: `${codec.name} says: ${error instanceof Error ? error.message : String(error)}`,
      remedy: 'The bytes are damaged, or the key or script is wrong',
    });
  }
}

export function wrongLength(codec: string, expected: number, actual: number): FormatError {
  return new FormatError('codec-failed', {
    expected: `${expected} bytes from ${codec}`,
    actual: `${actual}`,
    remedy: 'The bytes are damaged, or the key or script is wrong',
  });
}
