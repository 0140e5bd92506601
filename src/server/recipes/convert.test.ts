import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { writeSheet } from '../../../demo/world/sheet-writer';
import { Recipe } from '@/core/recipe';
import { conversionOf, converterOf } from './convert';

let storage: string;
beforeAll(() => {
  storage = fs.mkdtempSync(path.join(os.tmpdir(), 'convert-'));
  process.env.ZERO_LATCH_STORAGE = storage;
});
afterAll(() => fs.rmSync(storage, { recursive: true }));

const recipe = (convert: object): Recipe =>
  Recipe.parse({ title: 'x', pick: { search: '' }, folder: '/x', convert });
const converted = async (how: 'png' | 'utf-8' | 'pretty', bytes: Uint8Array): Promise<Buffer> =>
  Buffer.from(await converterOf(how)!.convert(bytes, 'a/thing'));

describe('conversions', () => {
  test('are chosen by kind', () => {
    const all = recipe({ picture: 'png', text: 'pretty' });
    expect(conversionOf(all, 'picture')).toBe('png');
    expect(conversionOf(all, 'text')).toBe('pretty');
    expect(conversionOf(all, 'sound')).toBe('stored');
    expect(conversionOf(recipe({}), 'picture')).toBe('stored');
    expect(converterOf('stored')).toBeUndefined();
  });

  test('a wrapped picture becomes a PNG of the same texels', async () => {
    const data = Buffer.alloc(8 * 8 * 4, 200);
    const sheet = writeSheet({ width: 8, height: 8, data }, 'rgba8', 'colour');
    const png = await converted('png', new Uint8Array(sheet));
    const { data: texels, info } = await sharp(png).raw().toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 8, height: 8, channels: 4 });
    expect(texels.equals(data)).toBe(true);
  });

  test('texts become UTF-8, JSON gets lines, and what is no text is refused', async () => {
    const wide = Buffer.from('\ufeffä und ö', 'utf16le');
    expect((await converted('utf-8', wide)).toString('utf8')).toBe('ä und ö');
    expect((await converted('pretty', Buffer.from('{"a":[1]}'))).toString()).toBe(
      '{\n  "a": [\n    1\n  ]\n}\n',
    );
    expect((await converted('pretty', Buffer.from('no json'))).toString()).toBe('no json');
    await expect(converted('utf-8', Buffer.from([0, 1, 2, 0]))).rejects.toThrow(/a text/);
  });
});
