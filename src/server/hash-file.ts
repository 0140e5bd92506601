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
