import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { memorySource } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import { mediaScriptsOn } from '@/platform/node/media-scripts';
import { readShelf } from '@/platform/node/script-shelf';
import { glyphTable, talkWidth } from '../../../demo/world/lanternfen/glyphs';
import { worded } from '@/core/fit';
import { collect, FormatError, refOfBytes } from '@/core/bytes';
import type { MediaTools } from '../medium';
import { WORDINGS } from '../wording';
import { isFontFor, missingIn, scriptsOf, widthIn } from './core';
import { fontNode, fontOf } from './node';

const scripts = mediaScriptsOn(readShelf());
const FILES = 'node_modules/@fontsource/atkinson-hyperlegible-next/files';
const open = (ending: string): Uint8Array =>
  new Uint8Array(fs.readFileSync(path.join(FILES, `atkinson-hyperlegible-next-latin-400-normal.${ending}`)));
const tools = { scripts } as unknown as MediaTools;
const headOf = (bytes: Uint8Array, name: string) =>
  fontNode.head!(
    { name, source: memorySource(bytes, name), describedKind: undefined, first: bytes, held: () => bytes },
    scripts,
  );

describe('an open font', () => {
  test.each(['woff', 'woff2'])('as %s tells its name, signs and scripts', async (ending) => {
    const bytes = open(ending);
    expect(typeOfHead(bytes)).toEqual({ kind: 'font', ending });
    expect(await headOf(bytes, `a.${ending}`)).toMatchObject({
      sort: 'font',
      name: expect.stringContaining('Atkinson'),
      form: ending.toUpperCase(),
      scripts: ['Latin'],
    });
    const font = fontOf(bytes, 'a', scripts)!;
    expect(missingIn(font, 'Fähre\u200b — ładna\n渡')).toEqual(expect.arrayContaining(['渡']));
    expect(missingIn(font, 'Fähre')).toEqual([]);
    expect(widthIn(font, 'WW')).toBeGreaterThan(2 * widthIn(font, 'i'));
  });

  test('that is cut off or harmed says so', () => {
    const bytes = open('woff');
    for (const length of [4, 60, 300]) {
      const cut = bytes.slice(0, length);
      expect(() => fontOf(cut, 'cut.woff', scripts)).toThrow(FormatError);
    }
    const other = Uint8Array.from(bytes, (byte, i) => (i > 44 && i < 200 ? 0xff : byte));
    expect(() => fontOf(other, 'harmed.woff', scripts)).toThrow(/cannot be read|harmed/);
  });

  test('is none where the bytes begin otherwise', async () => {
    const text = new Uint8Array(Buffer.from('no font'));
    expect(fontOf(text, 'a.ttf', scripts)).toBeUndefined();
    expect(await headOf(text, 'a.ttf')).toBeUndefined();
    // Numbers for searching its tables have to be those that follow from their count.
    const wrong = new Uint8Array(40);
    wrong.set([0, 1, 0, 0, 0, 9, 0, 1]);
    expect(typeOfHead(wrong)?.kind).not.toBe('font');
  });
});

describe("a font of a game's own", () => {
  test('is read by its script: which signs, and how wide', async () => {
    const bytes = new Uint8Array(glyphTable());
    const font = fontOf(bytes, 'talk.glyphs', scripts)!;
    expect(widthIn(font, 'Mind the plank.')).toBe(talkWidth('Mind the plank.'));
    expect(missingIn(font, 'Żółw')).toEqual(['Ż', 'ó', 'ł']);
    expect(scriptsOf(font)).toEqual(['Latin']);
    expect(isFontFor(font, 'Ohne Öl verlässt niemand den Anleger.')).toBe(true);
    expect(isFontFor(font, 'Паром')).toBe(false);
    expect(isFontFor(font, '1234')).toBe(false);
    expect(await headOf(bytes, 'talk.glyphs')).toMatchObject({ sort: 'font', form: 'Glyphs, Peatfire' });
  });

  test('is taken out as a table of its signs', async () => {
    const made: string[] = [];
    await fontNode.converters!.signs!.convert(
      [{ plain: refOfBytes(new Uint8Array(glyphTable())), path: 'talk.glyphs' }],
      { mediaScripts: scripts, check: () => undefined },
      (_, result) => made.push(Buffer.from(collect(result as never)).toString()),
    );
    const lines = made[0]!.split('\n');
    expect(lines[0]).toBe('code,sign,width');
    expect(lines).toContain(`U+0041,A,${talkWidth('A')}`);
  });

  test('given for another it is held against that', async () => {
    const slot = { bytes: new Uint8Array(glyphTable()), name: 'talk.glyphs', kind: 'font' };
    const told = async (bytes: Uint8Array): Promise<string[]> =>
      (await fontNode.fit!(slot, { bytes, name: 'given' }, new Set(), tools))!.findings.map(
        (finding) => `${finding.state}: ${worded(finding, WORDINGS).what}`,
      );
    expect(await told(slot.bytes)).toEqual([expect.stringMatching(/^fits: \d+ signs/)]);
    expect(await told(new Uint8Array(9))).toEqual(['does not fit: no font in the form Glyphs, Peatfire']);
    const few = slot.bytes.slice();
    few.set(few.subarray(16, 20), 28);
    expect((await told(few)).join()).toMatch(/does not fit|fewer/);
    expect((await told(open('woff'))).join()).toMatch(/look: WOFF given, the slot has Glyphs, Peatfire/);
  });
});
