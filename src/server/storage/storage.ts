import { createHash, randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { makeFolders } from '@/platform/node/make-folders';
import { UserError } from '@/platform/user-error';

/** Where the application keeps what is not in the database. */
export function storageRoot(): string {
  const root = process.env.ZERO_LATCH_STORAGE;
  if (!root) throw new Error('ZERO_LATCH_STORAGE is not set; start the application with bin/start');
  return root;
}

/** A folder of the storage, made when it is missing. */
export function storageFolder(...parts: string[]): string {
  const folder = path.join(storageRoot(), ...parts);
  makeFolders(folder);
  return folder;
}

const blobPath = (sha256: string): string => path.join(storageFolder('blobs', sha256.slice(0, 2)), sha256);

/** Keeps bytes by their hash; the same bytes are kept once. */
export function keepBlob(bytes: Uint8Array): string {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const target = blobPath(sha256);
  if (!fs.existsSync(target)) {
    const temporary = `${target}.${randomUUID()}`;
    fs.writeFileSync(temporary, bytes, { flag: 'wx', flush: true });
    fs.renameSync(temporary, target);
  } else touch(target);
  return sha256;
}

/** Used again, and so not to be collected before it is referred to. */
function touch(file: string): void {
  const now = new Date();
  fs.utimesSync(file, now, now);
}

export const readBlob = (sha256: string): Uint8Array => new Uint8Array(fs.readFileSync(blobPath(sha256)));
export const blobFile = (sha256: string): string => blobPath(sha256);

/** What may be brought in at once. */
const MOST_UPLOAD_BYTES = 512 * 1024 * 1024;
/** Films are never held in memory. */
export const MOST_FILM_BYTES = 64 * 1024 ** 3;

/** Streams an upload into the blobs without holding it. Refuses what is too large, and leaves nothing then. */
export async function receiveBlob(
  stream: NodeJS.ReadableStream,
  most = MOST_UPLOAD_BYTES,
): Promise<{ sha256: string; size: number }> {
  const temporary = path.join(storageFolder('incoming'), randomUUID());
  const hash = createHash('sha256');
  let size = 0;
  const meter = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      size += chunk.length;
      if (size > most) return done(new UserError(413, `The file is larger than ${most / 2 ** 20} MB.`));
      hash.update(chunk);
      done(null, chunk);
    },
  });
  try {
    await pipeline(stream, meter, fs.createWriteStream(temporary, { flags: 'wx', flush: true }));
    const sha256 = hash.digest('hex');
    fs.renameSync(temporary, blobPath(sha256));
    touch(blobPath(sha256));
    return { sha256, size };
  } finally {
    fs.rmSync(temporary, { force: true });
  }
}
