import fc from 'fast-check';
import { createCipheriv, createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { BytesBuilder } from './bytes-builder';

/**
 * For tests only: formats by chance, each as a script and as a writer of its own that shares nothing with the
 * core. They cross what formats differ in: where the table is, how its rows and names lie, widths, units, seals
 * and checks.
 */
export interface Format {
  readonly little: boolean;
  readonly table: 'start' | 'end by pointer' | 'end by footer';
  readonly rows: 'together' | 'parallel';
  readonly name: 'fixed' | 'ended' | 'counted' | 'pool';
  readonly placeSize: 3 | 4 | 8;
  readonly unit: 1 | 4 | 16;
  readonly counted: boolean;
  readonly spare: 0 | 1 | 5;
  readonly codec: 'none' | 'deflate' | 'zlib' | 'gzip' | 'brotli';
  readonly cipher: 'none' | 'xor' | 'aes-ctr' | 'aes-cbc';
  readonly check: 'none' | 'crc32' | 'sha1';
  readonly headCheck: boolean;
  readonly fill: number;
}

export const anyFormat: fc.Arbitrary<Format> = fc.record({
  little: fc.boolean(),
  table: fc.constantFrom('start', 'end by pointer', 'end by footer'),
  rows: fc.constantFrom('together', 'parallel'),
  name: fc.constantFrom('fixed', 'ended', 'counted', 'pool'),
  placeSize: fc.constantFrom(3, 4, 8),
  unit: fc.constantFrom(1, 4, 16),
  counted: fc.boolean(),
  spare: fc.constantFrom(0, 1, 5),
  codec: fc.constantFrom('none', 'deflate', 'zlib', 'gzip', 'brotli'),
  cipher: fc.constantFrom('none', 'xor', 'aes-ctr', 'aes-cbc'),
  check: fc.constantFrom('none', 'crc32', 'sha1'),
  headCheck: fc.boolean(),
  fill: fc.constantFrom(0, 0xff),
});

export interface Item {
  readonly name: string;
  readonly data: Buffer;
  readonly spare: Buffer;
}

export const anyItems: fc.Arbitrary<Item[]> = fc.uniqueArray(
  fc.record({
    name: fc.stringMatching(/^[a-z][a-z0-9_]{0,6}(\/[a-z0-9]{1,4})?$/),
    data: fc
      .tuple(fc.uint8Array({ minLength: 1, maxLength: 40 }), fc.integer({ min: 1, max: 9 }))
      .map(([piece, times]) => Buffer.concat(Array.from({ length: times }, () => Buffer.from(piece)))),
    spare: fc.uint8Array({ minLength: 5, maxLength: 5 }).map((bytes) => Buffer.from(bytes)),
  }),
  { minLength: 1, maxLength: 6, selector: ({ name }) => name },
);

const KEY = Buffer.from('00112233445566778899aabbccddeeff', 'hex');
const NAME_SIZE = 16;

/** The script of a format. */
export function scriptOf(format: Format): string {
  const { codec, cipher, check, unit, spare, fill } = format;
  const isParallel = format.rows === 'parallel';
  const of = (field: string): string => (isParallel ? `table.${field}s[position]` : field);
  const subject = isParallel ? 'entry(position)' : 'payload';
  const place = `place(${subject})${unit > 1 ? ` / ${unit}` : ''}`;
  const nameType =
    format.name === 'fixed'
      ? `text(${NAME_SIZE})`
      : { ended: 'ztext', counted: "'ctext(u8)'", pool: 'u16' }[format.name];
  const checkType = { none: '', crc32: 'u32', sha1: 'bytes(20)' }[check];
  const columns: [string, string][] = [
    ['name', `type: ${nameType}`],
    ['at', `type: u${8 * format.placeSize}, derived: ${place}`],
    ['plain', `type: u32, derived: size(plain(${subject}))`],
    ['stored', `type: u32, derived: size(${subject})`],
  ];
  if (spare > 0) columns.push(['spare', `type: bytes(${spare})`]);
  // A list can follow from something where it is of numbers.
  if (check !== 'none' && !(isParallel && check === 'sha1'))
    columns.push(['check', `type: ${checkType}, derived: ${check}(plain(${subject}))`]);
  const count = format.counted ? 'head.count' : 'head.tableSize / 1';
  const rows = isParallel
    ? columns.map(([name, type]) => `    ${name}s: { ${type}, count: ${count} }`).join('\n')
    : `    rows: { type: row, count: ${format.counted ? count : 'rest'}${format.counted ? '' : ', size: head.tableSize'} }`;
  const pool = format.name === 'pool' ? '    pool: { type: bytes(rest), size: head.poolSize }\n' : '';
  const steps = [
    cipher === 'xor' && `{ xor: { key: "hex('${KEY.toString('hex')}')" } }`,
    cipher === 'aes-ctr' &&
      `{ aes-ctr: { key: "hex('${KEY.toString('hex')}')", iv: 'concat(le(${of('plain')}, 8), be(0, 8))' } }`,
    cipher === 'aes-cbc' &&
      `{ aes-cbc: { key: "hex('${KEY.toString('hex')}')", iv: 'repeated(be(7, 1), 16)', tail: kept } }`,
    codec !== 'none' && `{ ${codec}: { size: '${of('plain')}' } }`,
  ].filter(Boolean);
  const countOf = isParallel ? 'was(head.count)' : 'count(table.rows)';
  return `format script: 1
title: Generated
recognise: [{ at: 0, text: GEN! }]
byte order: ${format.little ? 'little' : 'big'}
records:
  head:
    tag: { type: text(4), fixed: GEN! }
${format.counted ? `    count: { type: u16, derived: '${countOf}' }` : `    tableSize: { type: u32, derived: size(table.rows) }`}
${format.name === 'pool' ? '    poolSize: { type: u32, derived: size(table.pool) }\n' : ''}${
    format.table === 'end by pointer' ? '    tableAt: { type: u32, derived: place(table) }\n' : ''
  }${format.headCheck ? '    headCheck: { type: u32, derived: "crc32(zeroed(self, \'headCheck\'))" }\n' : ''}  table:
${rows}
${pool}${
    isParallel ? '' : `  row:\n${columns.map(([name, type]) => `    ${name}: { ${type} }`).join('\n')}\n`
  }${format.table === 'end by footer' ? '  footer: { back: { type: u32, derived: place(self) - place(table) } }\n' : ''}parts:
  head: { type: head, at: 0 }
${format.table === 'end by footer' ? '  footer: { type: footer, at: file.size - 4 }\n' : ''}  table: { type: table, at: ${
    { start: 'end(head)', 'end by pointer': 'head.tableAt', 'end by footer': 'place(footer) - footer.back' }[
      format.table
    ]
  } }
entries:
  each: ${isParallel ? 'head.count' : 'table.rows'}
  path: '${format.name === 'pool' ? `textat(table.pool, ${of('name')})` : of('name')}'
  size: '${of('plain')}'
  payload:
    at: '${of('at')} * ${unit}'
    size: '${of('stored')}'
    align: '${unit}'
    fill: ${fill}
    seal: [${steps.join(', ')}]
`;
}

function sealed({ codec, cipher }: Format, data: Buffer): Buffer {
  const pack = {
    none: (bytes: Buffer) => bytes,
    deflate: (bytes: Buffer) => zlib.deflateRawSync(bytes),
    zlib: (bytes: Buffer) => zlib.deflateSync(bytes, { level: 9 }),
    gzip: (bytes: Buffer) => zlib.gzipSync(bytes),
    brotli: (bytes: Buffer) => zlib.brotliCompressSync(bytes),
  };
  const packed = pack[codec](data);
  if (cipher === 'none') return packed;
  if (cipher === 'xor') return Buffer.from(packed.map((byte, i) => byte ^ KEY[i % KEY.length]!));
  if (cipher === 'aes-ctr') {
    const iv = Buffer.alloc(16);
    iv.writeUInt32LE(data.length);
    return createCipheriv('aes-128-ctr', KEY, iv).update(packed);
  }
  const whole = packed.length - (packed.length % 16);
  const cbc = createCipheriv('aes-128-cbc', KEY, Buffer.alloc(16, 7)).setAutoPadding(false);
  return Buffer.concat([cbc.update(packed.subarray(0, whole)), packed.subarray(whole)]);
}

/** The table's bytes, once the places are known. */
function tableOf(format: Format, items: readonly Item[], places: readonly number[]): Uint8Array {
  const out = new BytesBuilder(format.little);
  let poolAt = 0;
  const cells = items.map(({ name, data, spare }, i) => {
    const cell = (write: (to: BytesBuilder) => unknown): Uint8Array => {
      const to = new BytesBuilder(format.little);
      write(to);
      return to.bytes();
    };
    const nameAt = poolAt;
    poolAt += name.length + 1;
    const named = {
      fixed: (to: BytesBuilder) => to.padded(name, NAME_SIZE),
      ended: (to: BytesBuilder) => to.raw(`${name}\0`),
      counted: (to: BytesBuilder) => to.number(name.length, 1).raw(name),
      pool: (to: BytesBuilder) => to.number(nameAt, 2),
    };
    return [
      cell(named[format.name]),
      cell((to) => to.number(places[i]! / format.unit, format.placeSize)),
      cell((to) => to.number(data.length, 4)),
      cell((to) => to.number(sealed(format, data).length, 4)),
      cell((to) => to.raw(spare.subarray(0, format.spare))),
      cell((to) => {
        if (format.check === 'crc32') to.number(zlib.crc32(data), 4);
        if (format.check === 'sha1' && format.rows === 'together')
          to.raw(createHash('sha1').update(data).digest());
      }),
    ];
  });
  if (format.rows === 'together') for (const row of cells) for (const cell of row) out.raw(cell);
  else for (let column = 0; column < 6; column++) for (const row of cells) out.raw(row[column]!);
  if (format.name === 'pool') for (const { name } of items) out.raw(`${name}\0`);
  return out.bytes();
}

/** The bytes of an archive of the format. */
export function archiveOf(format: Format, items: readonly Item[]): Uint8Array {
  const payloads = items.map(({ data }) => sealed(format, data));
  const tableSize = tableOf(
    format,
    items,
    items.map(() => 0),
  ).length;
  const poolSize = format.name === 'pool' ? items.reduce((sum, { name }) => sum + name.length + 1, 0) : 0;
  const headSize =
    4 +
    (format.counted ? 2 : 4) +
    (format.name === 'pool' ? 4 : 0) +
    (format.table === 'end by pointer' ? 4 : 0) +
    (format.headCheck ? 4 : 0);
  let at = headSize + (format.table === 'start' ? tableSize : 0);
  const places = payloads.map((bytes) => {
    const place = Math.ceil(at / format.unit) * format.unit;
    at = place + bytes.length;
    return place;
  });
  const tableAt = format.table === 'start' ? headSize : at;
  const head = (check: number): Uint8Array => {
    const out = new BytesBuilder(format.little).raw('GEN!');
    if (format.counted) out.number(items.length, 2);
    else out.number(tableSize - poolSize, 4);
    if (format.name === 'pool') out.number(poolSize, 4);
    if (format.table === 'end by pointer') out.number(tableAt, 4);
    if (format.headCheck) out.number(check, 4);
    return out.bytes();
  };
  const out = new BytesBuilder(format.little).raw(head(zlib.crc32(head(0))));
  const table = tableOf(format, items, places);
  if (format.table === 'start') out.raw(table);
  payloads.forEach((bytes, i) => out.fill(places[i]!, format.fill).raw(bytes));
  if (format.table !== 'start') out.raw(table);
  if (format.table === 'end by footer') out.number(table.length, 4);
  return out.bytes();
}
