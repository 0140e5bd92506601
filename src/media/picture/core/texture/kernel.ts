import { KERNEL } from './kernel-bytes';

/** Numbers by which the kernel knows the block codecs; 14 to 16 are the signed ones of BC4, BC5 and BC6H. */
export type BlockCodec = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 14 | 15 | 16;
export type Quality = 'fast' | 'normal' | 'best';

const QUALITIES: Record<Quality, number> = { fast: 0, normal: 1, best: 2 };
const PAGE = 65536;
/** Of what is worked on at once: enough for whole rows of blocks, little enough for a cache. */
const STRIP_BYTES = 512 * 1024;

interface Exports {
  readonly memory: WebAssembly.Memory;
  firstFree(): number;
  decode(codec: number, from: number, to: number, across: number, rows: number): void;
  encode(codec: number, quality: number, from: number, to: number, across: number, rows: number): void;
}

let started: Exports | undefined;

/** The module, begun once in each thread. */
function kernel(): Exports {
  if (started) return started;
  const bytes = Uint8Array.from({ length: KERNEL.length / 2 }, (_, i) =>
    Number.parseInt(KERNEL.slice(2 * i, 2 * i + 2), 16),
  );
  const imports = {
    env: {
      abort: () => {
        throw new Error('the texture kernel ended');
      },
    },
  };
  const instance = new WebAssembly.Instance(new WebAssembly.Module(bytes), imports);
  return (started = instance.exports as unknown as Exports);
}

/** Makes room for so many bytes behind what the kernel uses itself; the answer is where they begin. */
function room({ memory, firstFree }: Exports, length: number): number {
  const base = firstFree();
  const missing = base + length - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  return base;
}

/** Bytes of a block of four by four texels. */
export const blockBytes = (codec: BlockCodec): number =>
  codec === 1 || codec === 4 || codec === 14 ? 8 : 16;

const texelBytes = (codec: BlockCodec): number => (codec === 6 || codec === 16 ? 8 : 4);

/**
 * Decodes blocks into rows of `width` texels: red, green, blue and alpha in a byte each, of BC6H in a half float each
 * (two bytes, lowest first). BC4 comes out grey, BC5 without blue, signed values spread over 0 to 255. Done in strips,
 * so that besides the result little is held. `bytes` must be long enough.
 */
export function decodeBlocks(
  codec: BlockCodec,
  bytes: Uint8Array,
  width: number,
  height: number,
): Uint8Array {
  const texel = texelBytes(codec);
  const out = new Uint8Array(width * height * texel);
  const exports = kernel();
  const across = Math.ceil(width / 4);
  const down = Math.ceil(height / 4);
  const blockRow = across * blockBytes(codec);
  const texelRow = across * 4 * texel;
  const strip = Math.max(1, Math.floor(STRIP_BYTES / (texelRow * 4)));
  const from = room(exports, strip * (blockRow + texelRow * 4));
  const to = from + strip * blockRow;
  const memory = new Uint8Array(exports.memory.buffer);
  for (let row = 0; row < down; row += strip) {
    const rows = Math.min(strip, down - row);
    memory.set(bytes.subarray(row * blockRow, (row + rows) * blockRow), from);
    exports.decode(codec, from, to, across, rows);
    const lines = Math.min(rows * 4, height - row * 4);
    const wanted = width * texel;
    if (wanted === texelRow) out.set(memory.subarray(to, to + lines * texelRow), row * 4 * texelRow);
    else
      for (let y = 0; y < lines; y++)
        out.set(memory.subarray(to + y * texelRow, to + y * texelRow + wanted), (row * 4 + y) * wanted);
  }
  return out;
}

/** Encodes rows of `width` texels of four bytes into blocks; texels beyond the edge repeat it. */
export function encodeBlocks(
  codec: BlockCodec,
  texels: Uint8Array,
  width: number,
  height: number,
  quality: Quality = 'normal',
): Uint8Array {
  const across = Math.ceil(width / 4);
  const down = Math.ceil(height / 4);
  const blockRow = across * blockBytes(codec);
  const texelRow = across * 16;
  const out = new Uint8Array(down * blockRow);
  const exports = kernel();
  const strip = Math.max(1, Math.floor(STRIP_BYTES / (texelRow * 4)));
  const from = room(exports, strip * (blockRow + texelRow * 4));
  const to = from + strip * texelRow * 4;
  const memory = new Uint8Array(exports.memory.buffer);
  for (let row = 0; row < down; row += strip) {
    const rows = Math.min(strip, down - row);
    for (let y = 0; y < rows * 4; y++) {
      const line = Math.min(height - 1, row * 4 + y) * width * 4;
      const at = from + y * texelRow;
      memory.set(texels.subarray(line, line + width * 4), at);
      const last = at + (width - 1) * 4;
      for (let x = at + width * 4; x < at + texelRow; x += 4) memory.copyWithin(x, last, last + 4);
    }
    exports.encode(codec, QUALITIES[quality], from, to, across, rows);
    out.set(memory.subarray(to, to + rows * blockRow), row * blockRow);
  }
  return out;
}
