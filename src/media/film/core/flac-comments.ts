import type { ReadStretch } from './tracks';

const COMMENTS = 4;
const MOST_BLOCKS = 64;
const MOST_BYTES = 64 << 10;

/**
 * The comments of a FLAC by their names (RFC 9639, section 8.6; lengths lowest byte first). Read here as its first block is, since the package
 * looks for frames in damaged ones without coming to an end. Empty where it has none or they are damaged.
 */
export function flacComments(size: number, read: ReadStretch): Record<string, string> {
  let at = 4;
  for (let i = 0; i < MOST_BLOCKS && at + 4 <= size; i++) {
    const head = read(at, 4);
    if (head.length < 4) return {};
    const length = (head[1]! << 16) | (head[2]! << 8) | head[3]!;
    if ((head[0]! & 127) === COMMENTS) return commentsIn(read(at + 4, Math.min(length, MOST_BYTES)));
    if (head[0]! & 128) return {};
    at += 4 + length;
  }
  return {};
}

function commentsIn(block: Uint8Array): Record<string, string> {
  const view = new DataView(block.buffer, block.byteOffset, block.length);
  const found: Record<string, string> = {};
  let at = 0;
  /** A text with its length before it; undefined where it would end behind the block. */
  const next = (): string | undefined => {
    const length = at + 4 <= block.length ? view.getUint32(at, true) : Infinity;
    if (at + 4 + length > block.length) return undefined;
    at += 4 + length;
    return new TextDecoder().decode(block.subarray(at - length, at));
  };
  if (next() === undefined || at + 4 > block.length) return found;
  at += 4;
  for (let text = next(); text !== undefined; text = next()) {
    const split = text.indexOf('=');
    if (split > 0) found[text.slice(0, split)] = text.slice(split + 1);
  }
  return found;
}
