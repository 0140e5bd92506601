import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { broughtBack, markOf } from '../../core/desk';
import { EXCHANGE_FORMS, readLines, writeLines, type GivenLine } from '.';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-exchange-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const tongues = { source: { code: 'en', name: 'English' }, target: { code: 'nl', name: 'Dutch' } };
const line = (key: string, source: string, target: string, more: Partial<GivenLine> = {}): GivenLine => ({
  ...{ place: 'text/ferry.lines', key, nth: 0, source, target, note: '', limit: '' },
  ...more,
});
const LINES: readonly GivenLine[] = [
  line('title', 'The night ferry', 'De nachtveer', { note: 'Shown large', limit: '20 characters' }),
  line('fare', 'Fare: {coins}, "all in"', ''),
  line('fare', 'Fare, again', 'Veergeld; nog eens', { nth: 1 }),
  line('odd key/with § signs <&>', 'a\nb\tc', 'x\ny\tz'),
  line('hello', '=1+2', '=HYPERLINK("x")', { place: 'text/über.lines' }),
  line('quote', "'quoted", "'=what"),
];

describe.each(EXCHANGE_FORMS.map((form) => [form]))('%s', (form) => {
  test('lines come back as they went out', async () => {
    const bytes = await writeLines(form, LINES, tongues);
    const { lines, warnings, form: read } = await readLines(bytes, 'lines');
    expect(read).toBe(form);
    expect(warnings).toEqual([]);
    expect(lines).toHaveLength(LINES.length);
    for (const { place, key, nth, source, target } of LINES)
      expect(lines).toContainEqual({ place, key, nth, source, target, mark: markOf(target) });
  });

  test('whatever the texts are', async () => {
    // Signs that a form cannot say are refused elsewhere; line ends are those of Unix.
    const said = fc
      .string({ unit: 'grapheme', maxLength: 40 })

      .map((text) => text.replace(/[\u0000-\u0008\u000b\u000c\r\u000e-\u001f\ufffe\uffff]/g, ''))
      .filter((text) => text.trim() === text);
    await fc.assert(
      fc.asyncProperty(said, said, async (source, target) => {
        const bytes = await writeLines(form, [line('k', source || 'x', target)], tongues);
        const { lines } = await readLines(bytes, 'lines');
        expect(lines).toMatchObject([{ key: 'k', source: source || 'x', target }]);
      }),
      { numRuns: form === 'xlsx' ? 25 : 100 },
    );
  });

  test('none at all', async () => {
    const bytes = await writeLines(form, [], tongues);
    if (form.startsWith('xliff')) await expect(readLines(bytes, 'lines')).rejects.toThrow(/with units/);
    else expect((await readLines(bytes, 'lines')).lines).toEqual([]);
  });

  test('a file that is cut is refused, or has fewer lines; never others', async () => {
    const bytes = await writeLines(form, LINES, tongues);
    for (const share of [0.2, 0.5, 0.9]) {
      const part = bytes.subarray(0, Math.floor(bytes.length * share));
      const read = await readLines(part, 'lines').catch((error: Error) => error);
      if (read instanceof Error) expect(read.name).toBe('FormatError');
      else expect(read.lines.length).toBeLessThanOrEqual(LINES.length);
    }
  });
});

test('gettext takes the PO file for one, and has every text in it', async () => {
  const file = path.join(root, 'a.po');
  fs.writeFileSync(file, await writeLines('po', LINES, tongues));
  const { status, stderr } = spawnSync(
    'msgfmt',
    ['--check-header', '--check-domain', '-o', path.join(root, 'a.mo'), file],
    {
      encoding: 'utf8',
    },
  );
  expect([status, stderr]).toEqual([0, '']);
  const listed = execFileSync('msgunfmt', [path.join(root, 'a.mo')], { encoding: 'utf8' });
  expect(listed).toContain('msgstr "De nachtveer"');
});

test.each(['xlsx', 'xliff 1.2', 'xliff 2'] as const)(
  '%s refuses what it cannot hold, with the line',
  async (form) => {
    await expect(writeLines(form, [line('bell', 'a', 'b\u0007')], tongues)).rejects.toThrow(
      /bell.*a control sign/s,
    );
  },
);

test('a text that is longer than a cell is refused as a workbook', async () => {
  await expect(writeLines('xlsx', [line('long', 'a', 'b'.repeat(32_768))], tongues)).rejects.toThrow(/32767/);
});

test('a table program sees three readable columns, and no formula', async () => {
  const file = path.join(root, 'a.xlsx');
  fs.writeFileSync(file, await writeLines('xlsx', LINES, tongues));
  const script = `
    const ExcelJS = require('exceljs');
    const book = new ExcelJS.Workbook();
    book.xlsx.readFile(${JSON.stringify(file)}).then(() => {
      const sheet = book.worksheets[0];
      const rows = [];
      sheet.eachRow((row) => rows.push([1, 2, 3].map((i) => row.getCell(i).value)));
      console.log(JSON.stringify(rows));
    });`;
  const rows = JSON.parse(
    execFileSync(process.execPath, ['-e', script], {
      encoding: 'utf8',
      env: { ...process.env, NODE_OPTIONS: '' },
    }),
  ) as string[][];
  expect(rows[0]).toEqual(['Key', 'English', 'Dutch']);
  expect(rows[1]).toEqual(['title', 'The night ferry', 'De nachtveer']);
  expect(rows.find(([key]) => key === 'hello')).toEqual(['hello', '=1+2', '=HYPERLINK("x")']);
});

test('in CSV what would be a formula is a text', async () => {
  const text = new TextDecoder().decode(await writeLines('csv', LINES, tongues));
  expect(text).toContain("hello,'=1+2");
  expect(text).not.toMatch(/(^|,|")=HYPERLINK/m);
});

describe('files that are none of ours, or were harmed', () => {
  const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
  test.each<[string, Uint8Array, RegExp]>([
    ['nothing', new Uint8Array(0), /empty file/],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0]), /a text/],
    ['columns without a key', encode('a,b,c\n1,2,3\n'), /a column 'Key'/],
    ['a key alone', encode('Key\nx\n'), /a column 'Key', the source and the target/],
    ['quotes that do not close', encode('Key,English,Dutch\na,b,"c\nd,e,f\n'), /quotes that close/],
    ['XML that is none', encode('<html><body>no</body></html>'), /XLIFF/],
    ['XML with definitions', encode('<!DOCTYPE x [<!ENTITY a "b">]><xliff version="2.0"/>'), /DOCTYPE/],
    ['JSON of something else', encode('{"a": 1}'), /lines with key and target/],
    ['an archive', Uint8Array.from([0x50, 0x4b, 3, 4, 0, 0, 0, 0]), /workbook/],
  ])('%s', async (_, bytes, said) => {
    await expect(readLines(bytes, 'given')).rejects.toThrow(said);
  });

  test('another encoding is told', async () => {
    const bytes = Uint8Array.from([...encode('Key,English,German\na,b,F'), 0xe4, ...encode('hre\n')]);
    const { lines, warnings } = await readLines(bytes, 'a.csv');
    expect(lines[0]!.target).toBe('Fähre');
    expect(warnings.join()).toMatch(/not in UTF-8/);
  });

  test('a PO file of another game has lines without a context', async () => {
    const { lines, warnings } = await readLines(encode('msgid "a"\nmsgstr "b"\n'), 'a.po');
    expect(lines).toEqual([]);
    expect(warnings.join()).toMatch(/1 lines have no context/);
  });
});

describe('what comes back', () => {
  const known = [
    { place: 't', key: 'a', nth: 0, source: 'A', text: 'old' },
    { place: 't', key: 'b', nth: 0, source: 'B', text: 'mine' },
    { place: 't', key: 'c', nth: 0, source: 'C', text: 'C!' },
    { place: 'u', key: 'a', nth: 0, source: 'A', text: '' },
  ];
  const back = (
    key: string,
    target: string,
    more: Partial<{ place: string; mark: string; source: string }> = {},
  ) => ({
    ...{ place: 't', key, nth: 0, source: undefined, mark: undefined, target },
    ...more,
  });

  test('is told apart: changed, the same, empty, unknown, changed here as well', () => {
    const found = broughtBack(
      [
        back('a', 'new', { mark: markOf('old') }),
        back('b', 'theirs', { mark: markOf('before') }),
        back('c', 'C!', { source: 'Other' }),
        back('a', '', { place: 'u' }),
        back('gone', 'x'),
      ],
      known,
    );
    expect(found.changed).toMatchObject([{ key: 'a', place: 't', now: 'old', text: 'new' }]);
    expect(found.conflicts).toMatchObject([{ key: 'b', now: 'mine', text: 'theirs' }]);
    expect(found).toMatchObject({ same: 2, empty: 0, unknown: ['gone'], missing: 0, otherSource: 1 });
  });

  test('what nobody touched outside does not undo what was done here', () => {
    const found = broughtBack([back('b', 'before', { mark: markOf('before') })], known);
    expect(found).toMatchObject({ changed: [], conflicts: [], same: 1, missing: 3 });
  });

  test('of a line that is there twice the last counts', () => {
    const found = broughtBack([back('a', 'first'), back('a', 'second')], known);
    expect(found).toMatchObject({ twice: 1, changed: [{ key: 'a', text: 'second' }] });
  });

  test('a file that does not say its tables is matched by keys that are there once', () => {
    const found = broughtBack([back('b', 'x', { place: '' }), back('a', 'x', { place: '' })], known);
    expect(found.changed).toMatchObject([{ key: 'b' }]);
    expect(found.unknown).toEqual(['a']);
  });
});
