import { afterAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Pixels } from '../../world/sheet-writer';
import { bell } from '../../world/sounds';
import { texelsFor, writeCall, writeHarbour, writePrint } from '../../world/tallow/file-writers';
import { writeStores, type StoreItem } from '../../world/tallow/stores-writer';
import { play, type Run } from './game';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-stand-in-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const filled = (width: number, height: number, red: number): Pixels => ({
  width,
  height,
  data: Buffer.alloc(width * height * 4, Buffer.from([red, 40, 60, 255])),
});

const harbour = (machine: 'desk' | 'hand'): Buffer =>
  writeHarbour(
    {
      berths: [{ name: 'pier', x: 3, y: -4 }],
      ground: Buffer.concat([
        Buffer.alloc(700, 9),
        texelsFor(filled(128, 64, 10), machine),
        Buffer.alloc(333, 9),
        texelsFor(filled(64, 64, 200), machine),
      ]),
      pictures: [{ pixels: filled(32, 16, 120), name: 'view' }],
    },
    machine,
  );

const items: readonly StoreItem[] = [
  { path: 'harbours/jetty.txt', data: Buffer.from('[harbour]\r\nnote=Mind the step, mind the step.\r\n') },
  { path: 'traders/odd.print', data: writePrint(filled(16, 16, 90), 'bc1'), loose: true },
  { path: 'calls/trader_1.call', data: writeCall(bell(300), 'near') },
];

let count = 0;
/** A game with other contents than the demo's; `spoil` changes a file before it is written. */
function runOf(spoil: (name: string, bytes: Buffer) => void = () => undefined, stores = items): Run {
  const folder = path.join(root, String(++count));
  const { list, bulk } = writeStores(stores);
  const files: Record<string, Buffer> = {
    'stores.list': list,
    'stores.bulk': bulk,
    'harbours/fen.harbour': harbour('desk'),
    'harbours/hand/fen.harbour': harbour('hand'),
  };
  for (const [name, bytes] of Object.entries(files)) {
    const given = Buffer.from(bytes);
    spoil(name, given);
    fs.mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    fs.writeFileSync(path.join(folder, name), given);
  }
  return play(folder);
}

const stallOf = ({ log, loaded }: Run): string => {
  expect(loaded).toBe(false);
  const { what, detail } = log.findLast(({ sort }) => sort === 'stall')!;
  return `${what} ${detail}`;
};

describe('the harbour game', () => {
  test('loads other contents than the demo has, of both machines', () => {
    const { loaded, quay } = runOf();
    expect(loaded).toBe(true);
    expect(quay!.line).toBe('Mind the step, mind the step.');
    expect(quay!.call.toString('latin1', 0, 4)).toBe('RIFF');
    const redOf = (name: string): number => quay!.pictures.get(name)!.rgba[0]!;
    for (const machine of ['desk', 'hand']) {
      expect(Math.abs(redOf(`${machine} fen ground view`) - 10)).toBeLessThan(8);
      expect(Math.abs(redOf(`${machine} fen ground board`) - 200)).toBeLessThan(8);
      expect(Math.abs(redOf(`${machine} fen view`) - 120)).toBeLessThan(8);
    }
  });

  test.each([
    ['stores.list', 0, 'stores.list tag'],
    ['stores.list', 30, 'stores.list check'],
    ['stores.bulk', 0, 'stores.list bulk tag'],
    ['harbours/fen.harbour', 0, 'harbours/fen.harbour harbour tag'],
    ['harbours/fen.harbour', 4, 'harbours/fen.harbour machine'],
    ['harbours/fen.harbour', 8, 'harbours/fen.harbour size'],
    ['harbours/fen.harbour', 12, 'harbours/fen.harbour picture count'],
    ['harbours/hand/fen.harbour', 2000, 'harbours/hand/fen.harbour check of TERR'],
  ])('a byte of %s turned over at %i stalls it: %s', (wanted, at, said) => {
    const run = runOf((name, bytes) => {
      if (name === wanted) bytes[at] = bytes[at]! ^ 0x80;
    });
    expect(stallOf(run)).toContain(said);
  });

  test.each([
    ['print', 20, 'traders/odd.print print check'],
    ['print', 8, 'traders/odd.print print layout'],
    ['call', 20, 'calls/trader_1.call call check'],
  ])('a store whose bytes do not check stalls it: %s at %i', (ending, at, said) => {
    const spoilt = items.map((item) => {
      if (!item.path.endsWith(ending)) return item;
      const data = Buffer.from(item.data);
      data[at] = data[at]! ^ 1;
      return { ...item, data };
    });
    expect(stallOf(runOf(undefined, spoilt))).toContain(said);
  });

  test('a store that is missing stalls it by its name', () => {
    expect(stallOf(runOf(undefined, items.slice(1)))).toContain('harbours/jetty.txt number');
  });
});
