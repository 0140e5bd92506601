import { createRequire } from 'node:module';
import path from 'node:path';
import zlib from 'node:zlib';
import type { CipherStream, Primitives } from '@/core/primitives';
import { applicationHome } from './home';
import { createSpool } from './spool';
import { unzstd, zstd } from './zstd';

/** Loading OpenSSL takes longer than listing a small archive, so that it waits until something is to be opened or hashed. */
const crypto = (): typeof import('node:crypto') => process.getBuiltinModule('node:crypto');

type Crc32 = (bytes: Uint8Array, seed: number) => number;
let loadedCrc32: Crc32 | undefined;
/** Carry-less multiplication, eight times as fast as zlib's tables; loaded when it is needed for the same reason. */
const crc32: Crc32 = (bytes, seed) =>
  (loadedCrc32 ??= (
    createRequire(path.join(applicationHome(), 'package.json'))('@node-rs/crc32') as { crc32: Crc32 }
  ).crc32)(bytes, seed);

/** AES pieces of this size are the fastest; larger ones outgrow the cache. */
const AES_PIECE = 1 << 16;

/** The bytes as a plain array: `slice` of a Buffer gives a view where the core expects a copy. */
const plainArray = (buffer: Buffer): Uint8Array =>
  new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.length);

/** One output piece of the expected size saves zlib its own growing; more than the limit is an error. */
const inflating = (limit: number): zlib.ZlibOptions => ({
  maxOutputLength: Math.max(1, limit),
  chunkSize: Math.max(64, Math.min(limit + 1, 1 << 20)),
});

/** Node's own zlib and OpenSSL behind the core's interface. */
export const nodePrimitives: Primitives = {
  inflateRaw: (stored, limit) => plainArray(zlib.inflateRawSync(stored, inflating(limit))),
  deflateRaw: (plain, level) => plainArray(zlib.deflateRawSync(plain, { level })),
  inflateZlib: (stored, limit) => plainArray(zlib.inflateSync(stored, inflating(limit))),
  deflateZlib: (plain, level) => plainArray(zlib.deflateSync(plain, { level })),
  gunzip: (stored, limit) => plainArray(zlib.gunzipSync(stored, inflating(limit))),
  gzip: (plain, level) => plainArray(zlib.gzipSync(plain, { level })),
  inflateStart(stored, wrapping) {
    // What a few hundred bytes become; a larger piece takes longer to be made than to be filled.
    const start = { finishFlush: zlib.constants.Z_SYNC_FLUSH, chunkSize: 4096 };
    if (wrapping === 'raw') return plainArray(zlib.inflateRawSync(stored, start));
    return plainArray(wrapping === 'zlib' ? zlib.inflateSync(stored, start) : zlib.gunzipSync(stored, start));
  },
  unbrotli: (stored, limit) =>
    plainArray(zlib.brotliDecompressSync(stored, { maxOutputLength: Math.max(1, limit) })),
  brotli: (plain) =>
    plainArray(
      zlib.brotliCompressSync(plain, {
        params: {
          [zlib.constants.BROTLI_PARAM_QUALITY]: 9,
          [zlib.constants.BROTLI_PARAM_SIZE_HINT]: plain.length,
        },
      }),
    ),
  unzstd,
  zstd,
  aes(mode, key, iv, decrypt): CipherStream {
    const name = `aes-${key.length * 8}-${mode}`;
    const start = mode === 'ecb' ? null : iv;
    const { createDecipheriv, createCipheriv } = crypto();
    const cipher = decrypt ? createDecipheriv(name, key, start) : createCipheriv(name, key, start);
    cipher.setAutoPadding(false);
    return {
      update(bytes) {
        if (bytes.length <= AES_PIECE) return plainArray(cipher.update(bytes));
        const out = new Uint8Array(bytes.length);
        for (let at = 0; at < bytes.length; at += AES_PIECE)
          out.set(cipher.update(bytes.subarray(at, at + AES_PIECE)), at);
        return out;
      },
    };
  },
  digest(name) {
    const hash = crypto().createHash(name);
    return {
      update: (bytes) => void hash.update(bytes),
      // A copy is asked, so that more may follow.
      value: () => plainArray(hash.copy().digest()),
    };
  },
  crc32,
  spool: createSpool,
};
