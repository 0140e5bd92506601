import { crc32 } from '@node-rs/crc32';
import { spawnSync } from 'node:child_process';
import { createCipheriv, createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import { writeHold, type HoldEntry } from '../demo/world/hold-writer';

/** A file of noise cut from one buffer, so that making gigabytes of it costs nothing. */
function noise(length: number): (index: number) => Buffer {
  const base = Buffer.alloc(length * 2);
  let block = createHash('sha256').update('noise').digest();
  for (let at = 0; at < base.length; at += 32) {
    block = createHash('sha256').update(block).digest();
    block.copy(base, at);
  }
  return (index) => {
    const piece = Buffer.from(base.subarray((index * 7919) % length, ((index * 7919) % length) + length));
    piece.writeUInt32LE(index, 0);
    return piece;
  };
}

export interface Sample {
  readonly hold: string;
  readonly tar: string;
  readonly oneEntry: string;
  readonly bytes: number;
}

/** An open hold of loose entries, and the same files as a folder for tar. */
export function makeSample(folder: string, count: number, size: number): Sample {
  const data = noise(size);
  const entries: HoldEntry[] = Array.from({ length: count }, (_, i) => ({
    path: `d${Math.floor(i / 200)}/f${i}.bin`,
    data: () => data(i),
    loose: true,
  }));
  const hold = path.join(folder, 'sample.hold');
  writeHold(hold, entries, { roll: true, rank: 0, salt: Buffer.alloc(16, 1) });
  const files = path.join(folder, 'files');
  for (const entry of entries) {
    const target = path.join(files, entry.path);
    fs.mkdirSync(path.dirname(target), { recursive: true });
    fs.writeFileSync(target, entry.data());
  }
  return {
    hold,
    tar: path.join(folder, 'sample.tar'),
    oneEntry: entries[Math.floor(count / 2)]!.path,
    bytes: count * size,
  };
}

/** Words of this repository in another order for each file: packs to about two fifths. */
function texts(count: number, size: number): (index: number) => Buffer {
  const words = fs
    .readFileSync(path.join(import.meta.dirname, '..', 'docs', 'format-scripts.md'), 'utf8')
    .split(/\s+/);
  let state = 1;
  const random = (): number => {
    state = (Math.imul(state, 1103515245) + 12345) >>> 0;
    return state / 2 ** 32;
  };
  let base = '';
  while (base.length < 10 * size)
    base += `${words[Math.floor(random() * words.length)]} ${random() < 0.1 ? random() : ''}`;
  const starts = Array.from({ length: count }, () => Math.floor(random() * 8.9 * size));
  return (index) => Buffer.from(base.slice(starts[index], starts[index]! + size), 'latin1');
}

/** A deflated ZIP of texts, made by the usual tool. */
export function makeZip(folder: string, count: number, size: number): string {
  const data = texts(count, size);
  const files = path.join(folder, 'to-zip');
  for (let i = 0; i < count; i++) {
    fs.mkdirSync(path.join(files, `d${i % 30}`), { recursive: true });
    fs.writeFileSync(path.join(files, `d${i % 30}`, `f${i}.txt`), data(i));
  }
  const zip = path.join(folder, 'sample.zip');
  spawnSync('zip', ['-q', '-r', '-1', zip, '.'], { cwd: files });
  fs.rmSync(files, { recursive: true });
  return zip;
}

/** Bytes of a row of the encrypted sample. */
const ROW = 36;

const ENCRYPTED = `
format script: 1
title: Encrypted
recognise: [{ at: 0, text: ENCR }]
keys: { game: { bytes: 32 } }
records:
  head: { tag: text(4), count: { type: u32, derived: count(rows) }, rows: { type: row, count: count } }
  row:
    at: { type: u64, derived: place(payload) }
    size: { type: u32, derived: size(plain(payload)) }
    stored: { type: u32, derived: size(payload) }
    iv: bytes(16)
    check: { type: u32, derived: crc32(plain(payload)), proves: game }
parts: { head: { type: head, at: 0 } }
entries:
  each: head.rows
  size: size
  payload: { at: at, size: stored, seal: [{ aes-ctr: { key: key.game, iv: iv } }, { deflate: { size: size } }] }
`;

export interface EncryptedSample {
  readonly archive: string;
  readonly script: string;
  readonly hex: string;
  /** The same texts as one gzip stream, encrypted, with the tool that encrypts and decrypts it. */
  readonly encryptedFile: string;
  readonly plainTool: string;
}

/** An archive of texts that are deflated and encrypted one by one, and for the tools the same texts in one encrypted stream. */
export function makeEncrypted(folder: string, count: number, size: number): EncryptedSample {
  const data = texts(count, size);
  const key = Buffer.alloc(32, 'key');
  const packed = Array.from({ length: count }, (_, i) => zlib.deflateRawSync(data(i), { level: 1 }));
  const table = Buffer.alloc(8 + ROW * count);
  table.write('ENCR');
  table.writeUInt32LE(count, 4);
  let at = table.length;
  packed.forEach((bytes, i) => {
    const row = 8 + ROW * i;
    table.writeBigUInt64LE(BigInt(at), row);
    table.writeUInt32LE(size, row + 8);
    table.writeUInt32LE(bytes.length, row + 12);
    table.writeUInt32LE(i, row + 16);
    table.writeUInt32LE(crc32(data(i)), row + 32);
    at += bytes.length;
  });
  const archive = path.join(folder, 'sample.encr');
  const script = path.join(folder, 'encr.yaml');
  fs.writeFileSync(script, ENCRYPTED);
  const fd = fs.openSync(archive, 'w');
  fs.writeSync(fd, table);
  packed.forEach((bytes, i) => {
    fs.writeSync(
      fd,
      createCipheriv('aes-256-ctr', key, table.subarray(24 + ROW * i, 40 + ROW * i)).update(bytes),
    );
  });
  fs.closeSync(fd);
  const one = path.join(folder, 'one.txt');
  for (let i = 0; i < count; i++) fs.appendFileSync(one, data(i));
  const encryptedFile = path.join(folder, 'one.gz.enc');
  const hex = key.toString('hex');
  const plainTool = `openssl enc -aes-256-ctr -K ${hex} -iv ${'0'.repeat(32)}`;
  spawnSync('sh', ['-c', `gzip -1 < ${one} | ${plainTool} -out ${encryptedFile}`]);
  fs.rmSync(one);
  return { archive, script, hex, encryptedFile, plainTool };
}
