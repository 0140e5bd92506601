import { createCipheriv, createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { BytesBuilder } from './bytes-builder';
import { BODIES, NAMES, type Sample } from './sample';

/** For tests only: bytes for the second half of the worked examples, made by hand. */
const bodyBytes = BODIES.map((body) => Buffer.from(body));

/** RC4, for which OpenSSL 3 asks for its legacy provider. */
function rc4(key: Buffer, data: Uint8Array): Buffer {
  const s = Array.from({ length: 256 }, (_, i) => i);
  for (let i = 0, j = 0; i < 256; i++) {
    j = (j + s[i]! + key[i % key.length]!) & 255;
    [s[i], s[j]] = [s[j]!, s[i]!];
  }
  let j = 0;
  return Buffer.from(
    data.map((byte, n) => {
      const i = (n + 1) & 255;
      j = (j + s[i]!) & 255;
      [s[i], s[j]] = [s[j]!, s[i]!];
      return byte ^ s[(s[i]! + s[j]!) & 255]!;
    }),
  );
}

/** Literal runs of PackBits only. */
const packbits = (data: Buffer): Buffer => Buffer.concat([Buffer.from([data.length - 1]), data]);

function keystream(data: Buffer, seed: number, first: number): Buffer {
  let state = BigInt(seed);
  return Buffer.from(
    data.map((byte, i) => {
      if (i >= first) return byte;
      state = (state * 1103n + 12345n) & 0xffffffffn;
      return byte ^ Number((state >> 8n) & 255n);
    }),
  );
}

const LAMP = Buffer.from('000102030405060708090a0b0c0d0e0f', 'hex');

export const MORE_SAMPLES: Record<string, () => Sample> = {
  told() {
    const out = new BytesBuilder().raw('TOLD').number(3, 1).raw('0003').number(0xfe, 1).number(0xff00, 2);
    const share = Buffer.alloc(8);
    share.writeDoubleLE(0.25);
    // -65 as signed LEB128, and 300 with its highest bits first.
    out.raw(share).raw(Buffer.from('bf7f', 'hex')).raw(Buffer.from('822c', 'hex'));
    out.raw(Buffer.from('caf\xe9\n', 'latin1')).padded('ok', 4);
    out.number(2, 1).raw(Buffer.from('\x80!', 'latin1')).number(2, 1).raw(Buffer.from('006100e9', 'hex'));
    out
      .raw(Buffer.alloc(3, 0xee))
      .number(0, 4)
      .raw(Buffer.from([7, 8, 9]))
      .number(0, 1);
    let at = out.length + 3 * 12;
    BODIES.forEach((body, i) => {
      out.padded(NAMES[i]!, 8).number(at, 2).number(body.length, 2);
      at += body.length;
    });
    return { bytes: out.raw(BODIES.join('')).bytes() };
  },
  sealed() {
    const cipher = createCipheriv('aes-128-ctr', LAMP, LAMP);
    const stored = [
      zlib.gzipSync(bodyBytes[0]!),
      zlib.brotliCompressSync(bodyBytes[1]!),
      cipher.update(bodyBytes[2]!),
    ];
    const out = new BytesBuilder().raw('SEAL').number(zlib.crc32(LAMP), 4).number(3, 1);
    let at = out.length + 3 * 21;
    BODIES.forEach((body, i) => {
      out.padded(NAMES[i]!, 8).number([1, 2, 20][i]!, 1).number(at, 4);
      out.number(stored[i]!.length, 4).number(body.length, 4);
      at += stored[i]!.length;
    });
    return { bytes: out.raw(Buffer.concat(stored)).bytes(), keys: { lamp: LAMP } };
  },
  print() {
    const digest = createHash('sha1').update('prints/jetty/board.print').digest().subarray(0, 8);
    const out = new BytesBuilder().raw('PRNT').number(3, 2).number(3, 2).raw(digest).raw(BODIES[0]!);
    return { bytes: out.bytes(), paths: ['jetty/board.any'], names: ['jetty/board.any'] };
  },
  chain() {
    const out = new BytesBuilder().raw('CHAI').number(8, 4);
    // Two blocks: the first with two rows and their payloads behind it.
    const row = (from: number, i: number): void =>
      void out.number(from, 4).number(BODIES[i]!.length, 2).raw(`${NAMES[i]}\0`);
    const first = 6 + 2 * 14;
    const second = 8 + first + BODIES[0]!.length + BODIES[1]!.length;
    out.number(second, 4).number(2, 2);
    row(first, 0);
    row(first + BODIES[0]!.length, 1);
    out.raw(BODIES[0]! + BODIES[1]!);
    out.number(0, 4).number(1, 2);
    row(6 + 14, 2);
    return { bytes: out.raw(BODIES[2]!).bytes() };
  },
  chunks() {
    const chunk = (tag: string, body: Uint8Array): Uint8Array => {
      const out = new BytesBuilder(false).raw(tag).number(body.length, 4).raw(body);
      return out.fill(out.length + (out.length % 2)).bytes();
    };
    const list = Buffer.concat([
      Buffer.from('pair'),
      chunk('ONE ', bodyBytes[0]!),
      chunk('TWO ', bodyBytes[1]!),
    ]);
    const all = Buffer.concat([chunk('LIST', list), chunk('THRE', bodyBytes[2]!)]);
    return { bytes: chunk('CNKS', all), paths: ['one.bin', 'two.bin', 'thre.bin'] };
  },
  signed() {
    const out = new BytesBuilder().raw('SIGN').number(3, 1);
    const stored = BODIES.map((body, i) => (i === 1 ? zlib.deflateSync(body) : Buffer.from(body)));
    const note = Buffer.from('a note', 'utf16le');
    // Fixed parts of a row, then a date for the first, a note for the second, a plain size for the packed one.
    let at = 5 + NAMES.join('').length + 3 * 10 + 8 + (2 + note.length) + 4;
    stored.forEach((bytes, i) => {
      out.number(NAMES[i]!.length, 1).raw(NAMES[i]!).number([1, 2, 0][i]!, 1);
      // 2026-01-01 as ticks of 100 nanoseconds since 1601.
      if (i === 0) out.number(134_116_992_000_000_000n, 8);
      if (i === 1) out.number(6, 2).raw(note);
      out.number(at, 4).number(i === 1 ? 2 ** 32 - bytes.length : bytes.length, 4);
      if (i === 1) out.number(BODIES[1]!.length, 4);
      at += bytes.length;
    });
    return { bytes: out.raw(Buffer.concat(stored)).bytes() };
  },
  machines() {
    const out = new BytesBuilder(false)
      .raw('MACH')
      .number(2, 1)
      .number(3, 1)
      .raw(Buffer.from('3fc00000', 'hex'));
    let at = 10 + NAMES.join('').length + 3 * 10 + 4;
    BODIES.forEach((body, i) => {
      out.number(NAMES[i]!.length, 1).raw(NAMES[i]!);
      // 12:30 on 2 March 2026.
      out.number((12 << 11) | (30 << 5), 2).number((46 << 9) | (3 << 5) | 2, 2);
      out.number(at, 4).number(body.length, 1);
      at += body.length;
    });
    const head = Buffer.concat([out.bytes(), Buffer.alloc(4)]);
    out.number(zlib.crc32(head), 4);
    return { bytes: out.raw(BODIES.join('')).bytes() };
  },
  locked() {
    const stored = bodyBytes.map((body, i) => {
      const packed = zlib.deflateRawSync(body);
      const key = createHash('sha256').update(`lamp oil${NAMES[i]!}`).digest().subarray(0, 16);
      const cipher = createCipheriv('aes-128-cbc', key, Buffer.alloc(16, i + 1)).setAutoPadding(false);
      const whole = packed.length - (packed.length % 16);
      return Buffer.concat([cipher.update(packed.subarray(0, whole)), packed.subarray(whole)]);
    });
    const rows = new BytesBuilder();
    let at = 16 + NAMES.join('').length + 3 * (1 + 12 + 16 + 32);
    stored.forEach((bytes, i) => {
      rows.number(NAMES[i]!.length, 1).raw(NAMES[i]!).number(at, 4);
      rows
        .number(BODIES[i]!.length, 4)
        .number(bytes.length, 4)
        .raw(Buffer.alloc(16, i + 1));
      rows.raw(createHash('sha256').update(bodyBytes[i]!).digest());
      at += bytes.length;
    });
    const table = Buffer.from(rows.bytes());
    const trailer = zlib.deflateSync(table);
    const out = new BytesBuilder().raw('LOCK').number(3, 4).number(table.length, 4);
    out.number(trailer.readUInt32BE(trailer.length - 4), 4);
    out.raw(rc4(createHash('sha1').update('lamp oil').digest(), table));
    return { bytes: out.raw(Buffer.concat(stored)).bytes() };
  },
  solid() {
    const packed = zlib.deflateSync(Buffer.from(BODIES.join('')));
    const cut = Math.floor(packed.length / 2);
    const behind = new BytesBuilder().number(BODIES.join('').length, 4).number(3, 1);
    let at = 0;
    BODIES.forEach((body, i) => {
      behind.padded(NAMES[i]!, 8).number(at, 4).number(body.length, 4);
      at += body.length;
    });
    behind.number(0x10, 1).number(cut, 2).raw(packed.subarray(0, cut));
    behind.number(0x20, 1).number(6, 1).raw('a note');
    behind
      .number(0x10, 1)
      .number(packed.length - cut, 2)
      .raw(packed.subarray(cut));
    const rest = Buffer.from(behind.raw('DONE').bytes());
    const check = zlib.crc32(Buffer.concat([Buffer.from('SOLD'), rest]));
    return { bytes: new BytesBuilder().raw('SOLD').number(check, 4).raw(rest).bytes() };
  },
  smaller() {
    // The second is a little shorter when it is packed here; the others stay as they are.
    const stored = BODIES.map((body, i) =>
      i === 1 ? zlib.deflateRawSync(Buffer.from(body), { level: 9 }) : Buffer.from(body),
    );
    const out = new BytesBuilder().raw('SMLR').number(3, 2);
    let at = 6 + 12;
    stored.forEach((bytes, i) => {
      out.number(at, 4);
      at += 1 + NAMES[i]!.length + 8 + bytes.length;
    });
    stored.forEach((bytes, i) => {
      out.number(NAMES[i]!.length, 1).raw(NAMES[i]!).number(bytes.length, 4);
      out.number(BODIES[i]!.length, 4).raw(bytes);
    });
    return { bytes: out.bytes() };
  },
  hashed() {
    // Murmur3 with seed 7 of 'maps\\one.txt', 'maps\\two.txt' and 'maps\\three.t' (from an independent program).
    const hashes = [0x1e17d6a3, 0xc48927d, 0xbd32fd38];
    const order = [0, 1, 2].sort((a, b) => hashes[a]! - hashes[b]!);
    const out = new BytesBuilder().raw('HASH').number(7, 4).number(3, 4);
    let at = 12 + 36;
    BODIES.forEach((body, i) => {
      out.number(hashes[order[i]!]!, 4).number(at, 4).number(body.length, 4);
      at += body.length;
    });
    const paths = NAMES.map((name) => `Maps/${name}`);
    return { bytes: out.raw(BODIES.join('')).bytes(), paths: order.map((i) => paths[i]!), names: paths };
  },
  blocks() {
    const BLOCK = 16;
    const blocks = bodyBytes.map((body) =>
      Array.from({ length: Math.ceil(body.length / BLOCK) }, (_, i) => {
        const plain = body.subarray(i * BLOCK, (i + 1) * BLOCK);
        const packed = zlib.deflateRawSync(plain);
        return packed.length < plain.length ? packed : plain;
      }),
    );
    const out = new BytesBuilder().raw('BLKS').number(3, 2).number(blocks.flat().length, 2);
    let first = 0;
    blocks.forEach((list, i) => {
      out.padded(NAMES[i]!, 8).number(first, 2).number(list.length, 2).number(BODIES[i]!.length, 4);
      first += list.length;
    });
    for (const block of blocks.flat()) out.number(block.length, 2);
    return { bytes: out.raw(Buffer.concat(blocks.flat())).bytes() };
  },
  versions() {
    // Two names in Shift_JIS: a lamp and a boat.
    const names = Buffer.concat([Buffer.from('938700', 'hex'), Buffer.from('914400', 'hex')]);
    const out = new BytesBuilder().raw('VERS').number(2, 1).raw(names);
    let at = out.length + 2 * 5 + 17;
    BODIES.forEach((body, i) => {
      out
        .number(i === 1 ? 1 : 0, 1)
        .number(at, i < 2 ? 2 : 4)
        .number(body.length, i < 2 ? 2 : 4);
      // xxHash 64 of 'third' (from the reference implementation).
      if (i === 2) out.number(0xe3dde5b3129fc8c3n, 8);
      at += body.length;
    });
    const [lamp, boat] = ['93 87', '91 44'].map((hex) =>
      new TextDecoder('shift_jis').decode(Buffer.from(hex.replace(' ', ''), 'hex')),
    );
    return { bytes: out.raw(BODIES.join('')).bytes(), paths: [lamp!, boat!, lamp!] };
  },
  partly() {
    const out = new BytesBuilder().raw('PART').number(3, 1);
    const stored = bodyBytes.map((body) => keystream(packbits(body), body.length, 8));
    stored.forEach((bytes, i) =>
      out.padded(NAMES[i]!, 8).number(BODIES[i]!.length, 4).number(bytes.length, 4),
    );
    for (const bytes of stored) out.fill(Math.ceil(out.length / 4) * 4).raw(bytes);
    return { bytes: out.bytes() };
  },
  sleeve() {
    const [body] = bodyBytes;
    const out = new BytesBuilder()
      .raw('SLEV')
      .number(0xc58f35, 4)
      .number(Math.ceil(body!.length / 8), 2);
    out.number(body!.length, 4).number(
      body!.reduce((sum, byte) => sum + byte, 0),
      2,
    );
    return { bytes: out.fill(22).raw(body!).bytes(), paths: ['inside'] };
  },
};
