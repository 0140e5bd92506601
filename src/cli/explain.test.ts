import { afterAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { run } from './run';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-explain-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));
const at = (name: string): string => path.join(folder, name);
const LAMPS = 'docs/first-script/lamps.wick';

async function latch(...args: string[]): Promise<{ code: number; out: string[]; complaints: string }> {
  const out: string[] = [];
  const complaints: string[] = [];
  const code = await run(args, { out: (line) => out.push(line), complain: (line) => complaints.push(line) });
  return { code, out, complaints: complaints.join('\n') };
}

function script(name: string, head: string, row = 'name: ctext(u8)'): string {
  fs.writeFileSync(
    at(name),
    `format script: 1
title: Lamps
recognise: [{ at: 0, text: WICK }]
records:
  head: ${head}
  row: { ${row}, packed: u8, at: u32, stored: u32, plain: u32, check: u32 }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: head.table, count: head.count }
entries: { each: rows, path: name, payload: { at: at, size: stored } }
`,
  );
  return at(name);
}

const HEAD =
  '{ tag: text(4), version: u16, count: { type: u16, derived: count(rows) }, table: u32, twice: { value: count * 2 } }';

describe('explain', () => {
  test('says of every field where it lies and what is in it, and what nothing explains', async () => {
    const { code, out } = await latch('explain', LAMPS, '--script', script('good.yaml', HEAD), '--most', '2');
    expect(code).toBe(0);
    expect(out[0]).toBe('           0         4  head.tag = "WICK"  (text)');
    expect(out).toContain('           6         2  head.count = 3  (u16, derived)');
    expect(out).toContain('                        head.twice = 6  (value, computed)');
    expect(out).toContain('          95        16  rows[0].name = "boats/skiff.txt"  (text)');
    expect(out).toContain('                        rows: 1 more');
    expect(out).toContain('3 entries; 186 bytes explained, 2 stretches are not, 0 are claimed twice');
    expect(out).toContain('          43         1  unexplained: 00');
  });

  test('a JSON line a field', async () => {
    const { out } = await latch('explain', LAMPS, '--script', script('good.yaml', HEAD), '--json');
    const lines = out.map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(lines.find(({ path: field }) => field === 'rows[2].plain')).toMatchObject({
      length: 4,
      type: 'u32',
    });
    expect(lines.filter(({ gap }) => gap)).toHaveLength(2);
  });

  test('a script that fails half-way shows its first half, then where it broke', async () => {
    const cut = script('cut.yaml', HEAD, 'name: ctext(u32)');
    const failed = await latch('explain', LAMPS, '--script', cut);
    expect(failed.code).toBe(1);
    expect(failed.out).toContain('           8         4  head.table = 95 (0x5f)  (u32)');
    expect(failed.complaints).toMatch(/rows\[0\]\.name, byte 99: the file ends too early/);
  });

  test('a derived field that does not hold is marked, and the rest is still shown', async () => {
    const wrong = script('false.yaml', HEAD.replace('count(rows)', 'count(rows) + 1'));
    const { code, out, complaints } = await latch('explain', LAMPS, '--script', wrong);
    expect(code).toBe(1);
    expect(out.find((line) => line.includes('head.count'))).toMatch(
      /head\.count = 3 {2}\(u16, derived\) {2}IS NOT 4$/,
    );
    expect(out.some((line) => line.includes('rows[2].check'))).toBe(true);
    expect(complaints).toContain('head.count, byte 6: does not hold');
  });

  test('a count of items that is none', async () => {
    const { code, complaints } = await latch('explain', LAMPS, '--most', '0');
    expect({ code, complaints }).toEqual({ code: 2, complaints: '--most takes a whole number from 1 on' });
  });
});

describe('entries without names', () => {
  const numbered = `format script: 1
title: Numbered
recognise: [{ at: 0, text: NUM1 }]
records:
  head: { tag: text(4), count: { type: u32, derived: count(rows) }, rows: { type: row, count: count } }
  row: { at: { type: u32, derived: place(payload) }, size: { type: u32, derived: size(payload) } }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, size: size, payload: { at: at, size: size } }
`;
  const PNG = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex');
  const bodies = [PNG, Buffer.from('OggS\0\x02 and so on'), Buffer.from('nothing known')];
  const head = Buffer.alloc(8 + 8 * bodies.length);
  head.write('NUM1');
  head.writeUInt32LE(bodies.length, 4);
  let place = head.length;
  bodies.forEach((body, i) => {
    head.writeUInt32LE(place, 8 + 8 * i);
    head.writeUInt32LE(body.length, 12 + 8 * i);
    place += body.length;
  });
  fs.writeFileSync(at('numbered.yaml'), numbered);
  fs.writeFileSync(at('a.num'), Buffer.concat([head, ...bodies]));
  const own = ['--script', at('numbered.yaml')];

  test('are called by their number and what they are', async () => {
    const { out } = await latch('entries', at('a.num'), ...own, '--json');
    expect(out.map((line) => (JSON.parse(line) as { path: string }).path)).toEqual([
      'unnamed/0.png',
      'unnamed/1.ogg',
      'unnamed/2',
    ]);
  });

  test('are extracted and changed under these names', async () => {
    await latch('extract', at('a.num'), ...own, '--to', at('out'), '--match', '**/*.png');
    expect(fs.readFileSync(at('out/unnamed/0.png')).equals(PNG)).toBe(true);
    fs.writeFileSync(at('new.bin'), 'no picture any more');
    for (const [i, name] of ['unnamed/0.png', 'unnamed/0'].entries()) {
      const target = at(`new${i}.num`);
      await latch('repack', at('a.num'), ...own, '--change', `${name}=${at('new.bin')}`, '--to', target);
      const { out } = await latch('entries', target, ...own);
      expect(out[0]).toMatch(/unnamed\/0$/);
      expect((await latch('prove', target, ...own)).code).toBe(0);
    }
  });
});
