import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { flushFolder } from '@/platform/node/file-sink';
import { hashFile } from '../../building/hash-file';
import { UserError } from '@/platform/user-error';

/** Where the kept copy of a file with this hash lies. */
export const originalFile = (originals: string, sha256: string): string => path.join(originals, sha256);

/** Keeps a verified copy of a file by its hash. Kept copies are checked again before they are trusted. */
export function keepOriginal(originals: string, source: string, sha256: string): void {
  const target = originalFile(originals, sha256);
  if (hashFile(target) === sha256) return;
  const temporary = `${target}.${randomUUID()}.part`;
  copyFlushed(source, temporary);
  const copied = hashFile(temporary);
  if (copied !== sha256) {
    fs.rmSync(temporary, { force: true });
    throw new UserError(
      409,
      `${source} changed while it was being kept. Nothing was overwritten. Close whatever writes to it and try again.`,
    );
  }
  fs.renameSync(temporary, target);
  flushFolder(originals);
}

/** Copies a file with its time and flushes the copy to the disk; leaves nothing when it fails. */
export function copyFlushed(source: string, target: string): void {
  try {
    fs.copyFileSync(source, target);
    const { atimeMs, mtimeMs } = fs.statSync(source);
    const fd = fs.openSync(target, 'r+');
    try {
      fs.futimesSync(fd, atimeMs / 1000, mtimeMs / 1000);
      fs.fsyncSync(fd);
    } finally {
      fs.closeSync(fd);
    }
  } catch (error) {
    fs.rmSync(target, { force: true });
    throw error;
  }
}
