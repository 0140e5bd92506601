import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { build } from 'esbuild';
import sharp from 'sharp';
import {
  channelErrors,
  decodeBlocks,
  decodeImage,
  encodeBlocks,
  readDds,
  type BlockCodec,
} from '../src/media/picture/core/texture';
import { sheetRecipes } from '../demo/world/lanternfen/sheets';
import { interleaved, timed, type Run } from './measure';

/**
 * Block codecs on a picture of 4096 x 4096 made of the demo's drawings, whole processes beside ImageMagick: both read a
 * file and write one. Run with `npm run bench:pictures`.
 */
const SIDE = 4096;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-'));
const at = (name: string): string => path.join(folder, name);

async function picture(): Promise<Buffer> {
  const recipes = sheetRecipes().filter(({ width }) => width >= 256);
  const tiles = await Promise.all(
    Array.from({ length: 16 }, async (_, i) => {
      const { width, height, body } = recipes[(i * 37) % recipes.length]!;
      const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="1024" height="1024" viewBox="0 0 ${width} ${height}" preserveAspectRatio="none">${body}</svg>`;
      return {
        input: await sharp(Buffer.from(svg)).png().toBuffer(),
        left: (i % 4) * 1024,
        top: (i >> 2) * 1024,
      };
    }),
  );
  const base = {
    create: { width: SIDE, height: SIDE, channels: 4 as const, background: { r: 0, g: 0, b: 0, alpha: 0 } },
  };
  return sharp(base).composite(tiles).raw().toBuffer();
}

const say = (line: string): void => void process.stdout.write(`${line}\n`);
const rate = (seconds: number): string => `${((SIDE * SIDE) / 1e6 / seconds).toFixed(1)} MPix/s`;

/** The error of what came back, over red, green, blue and alpha. */
function error(given: Uint8Array, back: Uint8Array, withAlpha: boolean): string {
  const errors = channelErrors(
    { width: SIDE, height: SIDE, data: given },
    { width: SIDE, height: SIDE, data: back },
  );
  return `${errors.colour.toFixed(2)} dB${withAlpha ? `, alpha ${errors.alpha.toFixed(2)} dB` : ''}`;
}

const texels = new Uint8Array(await picture());
const opaque = texels.slice();
for (let i = 3; i < opaque.length; i += 4) opaque[i] = 255;
await build({
  entryPoints: ['bench/picture-process.ts'],
  bundle: true,
  platform: 'node',
  format: 'esm',
  outfile: at('ours.mjs'),
  logLevel: 'error',
});
const ROUNDS = 5;
const ours = (...args: string[]): Run => timed(process.execPath, [at('ours.mjs'), ...args]);
const magick = (...args: string[]): Run => timed('convert-im6.q16', args);
const told = ({ ratio, ours: own, baseline }: ReturnType<typeof interleaved>): string =>
  `${(1 / ratio).toFixed(2)} times as fast as ImageMagick (${own.seconds.toFixed(2)} and ${baseline.seconds.toFixed(2)} s)`;

for (const [name, codec, plain, compression] of [
  ['BC1', 1, opaque, 'dxt1'],
  ['BC3', 3, texels, 'dxt5'],
] as const) {
  fs.writeFileSync(at('in.rgba'), plain);
  const size = ['-size', `${SIDE}x${SIDE}`, '-depth', '8', `rgba:${at('in.rgba')}`];
  const define = ['-define', `dds:compression=${compression}`, '-define', 'dds:mipmaps=0'];
  const encode = interleaved(
    ROUNDS,
    () => magick(...size, ...define, at('theirs.dds')),
    () => ours('encode', String(codec), 'normal', String(SIDE), at('in.rgba'), at('ours.dds')),
  );
  ours('decode', String(SIDE), at('ours.dds'), at('ours.rgba'));
  ours('decode', String(SIDE), at('theirs.dds'), at('theirs.rgba'));
  const [mine, theirs] = [at('ours.rgba'), at('theirs.rgba')].map(
    (file) => new Uint8Array(fs.readFileSync(file)),
  );
  say(`${name} encoded, normal: ${told(encode)}`);
  say(`  ${error(plain, mine!, name === 'BC3')}; ImageMagick ${error(plain, theirs!, name === 'BC3')}`);
  const decode = interleaved(
    ROUNDS,
    () => magick(at('theirs.dds'), '-depth', '8', `rgba:${at('theirs.rgba')}`),
    () => ours('decode', String(SIDE), at('theirs.dds'), at('ours.rgba')),
  );
  say(`${name} decoded: ${told(decode)}`);
  const dds = new Uint8Array(fs.readFileSync(at('theirs.dds')));
  const times = Array.from({ length: ROUNDS }, () => {
    const began = performance.now();
    decodeImage(readDds(dds, 'theirs.dds'));
    return (performance.now() - began) / 1000;
  }).sort((a, b) => a - b);
  const own = times[ROUNDS >> 1]!;
  say(
    `  in a process that runs already, as the application's does: ${own.toFixed(3)} s, ${(decode.baseline.seconds / own).toFixed(1)} times as fast`,
  );
}

// BC7 on a quarter, within this process and on one core; the application spreads it over all of them.
const quarter = texels.slice(0, texels.length / 4);
for (const quality of ['fast', 'normal'] as const) {
  encodeBlocks(7, quarter.subarray(0, SIDE * 4 * 64), SIDE, 64, quality);
  const began = performance.now();
  const blocks = encodeBlocks(7 satisfies BlockCodec, quarter, SIDE, SIDE / 4, quality);
  const seconds = (performance.now() - began) / 1000;
  const then = performance.now();
  const back = decodeBlocks(7, blocks, SIDE, SIDE / 4);
  const decoded = (performance.now() - then) / 1000;
  const errors = channelErrors(
    { width: SIDE, height: SIDE / 4, data: quarter },
    { width: SIDE, height: SIDE / 4, data: back },
  );
  say(
    `BC7, ${quality}, one core: encoded at ${rate(seconds * 4)}, ${errors.colour.toFixed(2)} dB, alpha ${errors.alpha.toFixed(2)} dB; decoded at ${rate(decoded * 4)}`,
  );
}
fs.rmSync(folder, { recursive: true });
