import fs from 'node:fs';
import { isMainThread, Worker, workerData } from 'node:worker_threads';
import { readDds, writeDds } from '../src/media/picture/core/texture/dds';
import { encodeBlocks, type BlockCodec, type Quality } from '../src/media/picture/core/texture/kernel';
import { layouts } from '../src/media/picture/core/texture/layouts';
import { decodeImage } from '../src/media/picture/core/texture/texture';

/** A whole process that decodes or encodes one picture, for measuring beside another program; encoding uses two threads, as the application does. */
interface Half {
  readonly codec: BlockCodec;
  readonly quality: Quality;
  readonly side: number;
  readonly file: string;
  readonly row: number;
  readonly out: SharedArrayBuffer;
  readonly at: number;
}

function encodeHalf({ codec, quality, side, file, row, out, at }: Half): void {
  const texels = Buffer.alloc((side * side * 4) / 2);
  const handle = fs.openSync(file, 'r');
  fs.readSync(handle, texels, 0, texels.length, row * side * 4);
  fs.closeSync(handle);
  new Uint8Array(out).set(encodeBlocks(codec, texels, side, side / 2, quality), at);
}

async function encode(
  codec: BlockCodec,
  quality: Quality,
  side: number,
  file: string,
  to: string,
): Promise<void> {
  const layout = layouts.get(`bc${codec}`)!;
  const out = new SharedArrayBuffer(layout.levelLength(side, side));
  const half = { codec, quality, side, file, out };
  const other = new Worker(new URL(import.meta.url), {
    workerData: { ...half, row: side / 2, at: out.byteLength / 2 },
  });
  encodeHalf({ ...half, row: 0, at: 0 });
  await new Promise((resolve, reject) => other.once('exit', resolve).once('error', reject));
  const shape = { width: side, height: side, depth: 1, levels: 1, layers: 1, faces: 1 };
  fs.writeFileSync(
    to,
    writeDds({ container: '', colourSpace: 'not said', ...shape, layout, image: () => new Uint8Array(out) }),
  );
}

if (!isMainThread) encodeHalf(workerData as Half);
else {
  const [what, ...args] = process.argv.slice(2);
  if (what === 'encode') {
    const [codec, quality, side, from, to] = args as [string, Quality, string, string, string];
    await encode(Number(codec) as BlockCodec, quality, Number(side), from, to);
  } else {
    const [, from, to] = args as [string, string, string];
    fs.writeFileSync(to, decodeImage(readDds(fs.readFileSync(from), from)).data);
  }
}
