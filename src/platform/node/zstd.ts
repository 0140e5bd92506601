import fs from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { applicationHome } from './home';

/** What the package's module offers beneath its own functions. */
interface ZstdModule {
  HEAPU8: Uint8Array;
  instantiateWasm?: (
    imports: WebAssembly.Imports,
    receive: (instance: WebAssembly.Instance) => object,
  ) => object;
  init(wasm?: Uint8Array): void;
  _malloc(size: number): number;
  _free(at: number): void;
  _ZSTD_isError(code: number): number;
  _ZSTD_compressBound(size: number): number;
  _ZSTD_compress(to: number, room: number, from: number, length: number, level: number): number;
  _ZSTD_decompress(to: number, room: number, from: number, length: number): number;
}

/** ZSTD_error_dstSize_tooSmall. */
const TOO_SMALL = -70;

let loaded: ZstdModule | undefined;

/**
 * The library behind the package. Its own start waits for a promise and its own decoder takes any frame for at
 * most a mebibyte, so it is started on the spot and called directly.
 */
function library(): ZstdModule {
  if (loaded) return loaded;
  const load = createRequire(path.join(applicationHome(), 'package.json'));
  const folder = path.dirname(load.resolve('@bokuweb/zstd-wasm'));
  const { Module } = load(path.join(folder, 'module.js')) as { Module: ZstdModule };
  const wasm = new WebAssembly.Module(fs.readFileSync(path.join(folder, 'zstd.wasm')));
  Module.instantiateWasm = (imports, receive) => receive(new WebAssembly.Instance(wasm, imports));
  Module.init();
  loaded = Module;
  return Module;
}

/** Runs `work` over a copy of `bytes` in the library's memory and gives what it made. */
function run(
  bytes: Uint8Array,
  room: number,
  work: (zstd: ZstdModule, to: number, from: number) => number,
): Uint8Array | number {
  const zstd = library();
  const from = zstd._malloc(Math.max(1, bytes.length));
  const to = zstd._malloc(Math.max(1, room));
  try {
    if (from === 0 || to === 0) throw new RangeError(`no memory for ${room} bytes`);
    zstd.HEAPU8.set(bytes, from);
    const made = work(zstd, to, from);
    return zstd._ZSTD_isError(made) ? made | 0 : zstd.HEAPU8.slice(to, to + made);
  } finally {
    zstd._free(to);
    zstd._free(from);
  }
}

/** Zstandard (RFC 8878): the plain bytes of one or several frames, at most `limit` of them. */
export function unzstd(stored: Uint8Array, limit: number): Uint8Array {
  for (let room = Math.min(limit, Math.max(1 << 16, stored.length * 8)); ; room = Math.min(limit, room * 4)) {
    const made = run(stored, room, (zstd, to, from) => zstd._ZSTD_decompress(to, room, from, stored.length));
    if (typeof made !== 'number') return made;
    if (made !== TOO_SMALL) throw new Error(`no whole Zstandard frame (${made})`);
    if (room >= limit) throw new RangeError(`more than ${limit} bytes come out`);
  }
}

export function zstd(plain: Uint8Array, level: number): Uint8Array {
  const room = library()._ZSTD_compressBound(plain.length);
  const made = run(plain, room, (library, to, from) =>
    library._ZSTD_compress(to, room, from, plain.length, level),
  );
  if (typeof made === 'number') throw new Error(`Zstandard failed (${made})`);
  return made;
}
