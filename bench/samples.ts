import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { writeHold, type HoldEntry } from '../demo/world/hold-writer';

/** A file of noise cut from one buffer, so that making gigabytes of it costs nothing. */
function noise(length: number): (index: number) => Buffer {
  const base = Buffer.alloc(length * 2);
  let block = createHash('sha256').update('noise').digest();
  for (let at = 0; at < base.length; at += 32) {
    block = createHash('sha256').update(block).digest();
    block.copy(base, at);
  }
  return (index) => {
    const piece = Buffer.from(base.subarray((index * 7919) % length, ((index * 7919) % length) + length));
    piece.writeUInt32LE(index, 0);
    return piece;
  };
}

export interface Sample {
  readonly hold: string;
  readonly tar: string;
  readonly oneEntry: string;
  readonly bytes: number;
}

/** An open hold of loose entries, and the same files as a folder for tar. */
export function makeSample(folder: string, count: number, size: number): Sample {
  const data = noise(size);
  const entries: HoldEntry[] = Array.from({ length: count }, (_, i) => ({
    path: `d${Math.floor(i / 200)}/f${i}.bin`,
    data: () => data(i),
    loose: true,
  }));
  const hold = path.join(folder, 'sample.hold');
  writeHold(hold, entries, { roll: true, rank: 0, salt: Buffer.alloc(16, 1) });
  const files = path.join(folder, 'files');
  for (const entry of entries) {
    const target = path.join(files, entry.path);
    fs.mkdirSync(path.dirname(target), { recursive: true });
    fs.writeFileSync(target, entry.data());
  }
  return {
    hold,
    tar: path.join(folder, 'sample.tar'),
    oneEntry: entries[Math.floor(count / 2)]!.path,
    bytes: count * size,
  };
}
