import fs from 'node:fs';
import type { OpenOptions } from '@/core/archive';
import { memorySource } from '@/core/bytes';
import zlib from 'node:zlib';
import { parseScript, type Script } from '@/core/script';
import { BytesBuilder } from './bytes-builder';
import { BODIES, NAMES, type Sample } from './sample';
import { MORE_SAMPLES } from './more-reference-samples';

/** For tests only: the scripts of the reference, and bytes for each made by hand, without anything of the core. */
export const reference =
  fs.readFileSync('docs/format-scripts.md', 'utf8') + fs.readFileSync('docs/script-examples.md', 'utf8');
export const referenceScripts = new Map<string, Script>();
for (const [, text] of reference.matchAll(/```yaml\n([\s\S]*?)```/g)) {
  const script = parseScript(text!);
  referenceScripts.set(/# example: (\w+)/.exec(text!)?.[1] ?? script.title.toLowerCase(), script);
}

export { BODIES, NAMES, type Sample } from './sample';

/** Finds the files beside a sample. */
export const companionsIn =
  (beside: Sample['beside'] = {}): OpenOptions['companion'] =>
  (fileName) =>
    beside[fileName] && memorySource(beside[fileName], fileName);

/** What is inside the examples of a file in a file. */
function insideOf(tag: string): Uint8Array {
  const out = new BytesBuilder().raw(tag).number(3, 4);
  let at = 8 + 3 * 16;
  BODIES.forEach((body, i) => {
    out.padded(NAMES[i]!, 8).number(at, 4).number(body.length, 4);
    at += body.length;
  });
  return out.raw(BODIES.join('')).bytes();
}

export const SAMPLES: Record<string, () => Sample> = {
  ...MORE_SAMPLES,
  box() {
    const out = new BytesBuilder().raw('BOX1').number(3, 4);
    let at = 8 + 3 * 20;
    BODIES.forEach((body, i) => {
      out.number(at, 4).number(body.length, 4).padded(NAMES[i]!, 12);
      at += body.length;
    });
    return { bytes: out.raw(BODIES.join('')).bytes() };
  },
  footer() {
    const out = new BytesBuilder().raw(BODIES.join(''));
    const table = out.length;
    let at = 0;
    BODIES.forEach((body, i) => {
      out.padded(NAMES[i]!, 8).number(at, 4).number(body.length, 4);
      at += body.length;
    });
    return { bytes: out.number(3, 4).number(table, 4).raw('FOOT').bytes() };
  },
  parallel() {
    const names = NAMES.map((name) => `${name}\0`).join('');
    const out = new BytesBuilder().raw('PARL').number(3, 4);
    let at = 8 + 24 + names.length;
    for (const body of BODIES) {
      out.number(at, 4);
      at += body.length;
    }
    for (const body of BODIES) out.number(body.length, 4);
    return { bytes: out.raw(names).raw(BODIES.join('')).bytes() };
  },
  packed() {
    const stored = BODIES.map((body, i) => (i === 1 ? zlib.deflateSync(body) : Buffer.from(body)));
    const out = new BytesBuilder(false).raw('PKD1').number(3, 2);
    let at = 6 + NAMES.reduce((sum, name) => sum + name.length + 12, 0);
    const places = stored.map((bytes) => {
      at = Math.ceil(at / 4) * 4;
      const place = at;
      at += bytes.length;
      return place;
    });
    stored.forEach((bytes, i) => {
      out
        .number(NAMES[i]!.length, 1)
        .raw(NAMES[i]!)
        .number(places[i]! / 4, 3);
      out.number(BigInt(bytes.length) | (i === 1 ? 1n << 31n : 0n), 4).number(BODIES[i]!.length, 4);
    });
    stored.forEach((bytes, i) => out.fill(places[i]!).raw(bytes));
    return { bytes: out.bytes() };
  },
  pool() {
    const pool = NAMES.map((name) => `${name}\0`).join('');
    const out = new BytesBuilder().raw('POOL').number(3, 4).number(pool.length, 4);
    let nameAt = 0;
    let at = Math.ceil((12 + 24 + pool.length) / 16) * 16;
    const places = BODIES.map(() => (at += 32) - 32);
    BODIES.forEach((_, i) => {
      out.number(nameAt, 4).number(places[i]! / 16, 4);
      nameAt += NAMES[i]!.length + 1;
    });
    out.raw(pool);
    BODIES.forEach((body, i) => out.fill(places[i]!).raw(body.padEnd(32, '.')));
    return { bytes: out.bytes() };
  },
  folders() {
    const out = new BytesBuilder().raw('FLDR').number(2, 2).number(3, 2);
    out.number(0xffff, 2).number(0, 2).number(1, 2).number(3, 1).raw('top');
    out.number(0, 2).number(1, 2).number(2, 2).number(4, 1).raw('deep');
    BODIES.forEach((body, i) => out.number(body.length, 4).number(NAMES[i]!.length, 1).raw(NAMES[i]!));
    return {
      bytes: out.raw(BODIES.join('')).bytes(),
      paths: ['top/one.txt', 'top/deep/two.txt', 'top/deep/three.t'],
    };
  },
  volumes() {
    const index = new BytesBuilder().raw('VOLS').number(2, 2).number(3, 2);
    const bodies = ['', ''];
    BODIES.forEach((body, i) => {
      const volume = i % 2;
      index
        .number(volume, 2)
        .number(8 + bodies[volume]!.length, 4)
        .number(body.length, 4);
      index.number(NAMES[i]!.length, 1).raw(NAMES[i]!);
      bodies[volume] += body;
    });
    const volume = (body: string): Uint8Array =>
      new BytesBuilder()
        .raw('VOLD')
        .number(8 + body.length, 4)
        .raw(body)
        .bytes();
    return {
      bytes: index.bytes(),
      beside: { 'sample_01.vol': volume(bodies[0]!), 'sample_02.vol': volume(bodies[1]!) },
    };
  },
  wrapped() {
    const inside = insideOf('INSD');
    return {
      bytes: new BytesBuilder()
        .raw('WRAP')
        .number(inside.length, 4)
        .number(zlib.crc32(inside), 4)
        .raw(zlib.deflateSync(inside))
        .bytes(),
    };
  },
  masked() {
    const out = new BytesBuilder().raw('MASK').raw(BODIES.join(''));
    BODIES.forEach((body, i) => out.padded(NAMES[i]!, 8).number(body.length, 4));
    return { bytes: out.bytes().map((byte) => byte ^ 0x5a) };
  },
  tracks() {
    const out = new BytesBuilder().raw('TRKS').number(3, 2);
    BODIES.forEach((body, i) =>
      out
        .number(10 + i, 2)
        .number(body.length, 4)
        .padded(NAMES[i]!, 8),
    );
    for (let at = 0; at < 24; at += 6)
      BODIES.forEach((body, i) => {
        const piece = body.slice(at, at + 6);
        if (!piece) return;
        out
          .number(10 + i, 2)
          .number(piece.length, 2)
          .raw(piece);
        out.fill(Math.ceil(out.length / 4) * 4);
      });
    return { bytes: out.bytes() };
  },
  prefixes() {
    const rows = [
      [0, 'lamp/one'],
      [5, 'oil'],
      [2, 'p'],
    ] as const;
    const out = new BytesBuilder().raw('PRFX');
    let at = 4 + rows.reduce((sum, [, rest]) => sum + 1 + rest.length + 1 + 8, 0) + 1;
    rows.forEach(([shared, rest], i) => {
      out.number(shared, 1).raw(`${rest}\0`).number(at, 4).number(BODIES[i]!.length, 4);
      at += BODIES[i]!.length;
    });
    return { bytes: out.number(255, 1).raw(BODIES.join('')).bytes(), paths: ['lamp/one', 'lamp/oil', 'lap'] };
  },
};
