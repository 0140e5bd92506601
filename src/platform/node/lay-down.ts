import fs from 'node:fs';
import { isAtHand, refOfSpan, type BytesRef } from '@/core/bytes';
import { openFileSource } from './file-source';

/** Bytes any range of which can be had; `close` lets go of them. */
export interface LaidDown {
  readonly ref: BytesRef;
  close(): void;
}

/** Bytes as they are where any range of them is at hand; what has to be unpacked or unlocked from its beginning is laid into `file` first. */
export function layDown(ref: BytesRef, file: string): LaidDown {
  if (isAtHand(ref)) return { ref, close: () => undefined };
  const handle = fs.openSync(file, 'w');
  try {
    for (const chunk of ref.chunks()) fs.writeSync(handle, chunk);
  } finally {
    fs.closeSync(handle);
  }
  const source = openFileSource(file, file);
  return { ref: refOfSpan(source, 0, source.length), close: () => source.close() };
}
