import { createHash } from 'node:crypto';
import fs from 'node:fs';

const PIECE = 1 << 20;

/** SHA-256 of a file in hexadecimal digits, read piece by piece. Undefined where there is no such file. */
export function hashFile(file: string): string | undefined {
  let fd: number;
  try {
    fd = fs.openSync(file, 'r');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    throw error;
  }
  try {
    const hash = createHash('sha256');
    const buffer = Buffer.allocUnsafe(PIECE);
    for (;;) {
      const count = fs.readSync(fd, buffer, 0, PIECE, null);
      if (count === 0) return hash.digest('hex');
      hash.update(buffer.subarray(0, count));
    }
  } finally {
    fs.closeSync(fd);
  }
}

/** SHA-256 of stretches of a file and of bytes, one behind the other. */
export function hashPieces(
  file: string,
  pieces: readonly ({ readonly from: number; readonly length: number } | Uint8Array)[],
): string {
  const hash = createHash('sha256');
  const buffer = Buffer.allocUnsafe(PIECE);
  const fd = fs.openSync(file, 'r');
  try {
    for (const piece of pieces) {
      if (piece instanceof Uint8Array) {
        hash.update(piece);
        continue;
      }
      for (let at = piece.from, end = piece.from + piece.length; at < end;) {
        const count = fs.readSync(fd, buffer, 0, Math.min(PIECE, end - at), at);
        if (count === 0) throw new Error(`${file} ends at ${at}, before ${end}`);
        hash.update(buffer.subarray(0, count));
        at += count;
      }
    }
  } finally {
    fs.closeSync(fd);
  }
  return hash.digest('hex');
}
