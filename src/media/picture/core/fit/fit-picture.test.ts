import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import { nodePrimitives } from '@/platform/node/primitives';
import { writeSheet, type Layout } from '../../../../../demo/world/sheet-writer';
import {
  channelErrors,
  decodeImage,
  FIRST,
  flatTexture,
  layouts,
  openPicture,
  placesOf,
  readDds,
  readKtx2,
  usesAlpha,
  writeDds,
  writeKtx2,
  type Pixels,
  type Texture,
  type WrappedPicture,
} from '../texture';
import { decodeAnyText } from '@/media/text/core/encoding';
import { parseScript } from '@/core/script';
import { fitPicture } from '@/media/picture/core/fit';
import { fitText } from '@/media/text/core/fit-text';
import { worded, POLICIES, under, worst, type Mend } from '@/core/fit';
import { pictureWording } from '../wording';

const script = parseScript(fs.readFileSync('scripts/formats/sheet-peatfire.yaml', 'utf8'));
const none = new Set<Mend>();
const filled = (width: number, height: number, alpha: number): Pixels => ({
  width,
  height,
  data: new Uint8Array(width * height * 4).map((_, i) => (i % 4 === 3 ? alpha : 90)),
});
const slot = (layout: Layout, alpha = 255): WrappedPicture => {
  const { data } = filled(32, 32, alpha);
  return openPicture(
    script,
    new Uint8Array(writeSheet({ width: 32, height: 32, data: Buffer.from(data) }, layout, 'colour')),
    's',
    nodePrimitives,
  );
};

const tools = { resize: (_: Pixels, width: number, height: number) => filled(width, height, 255) };
const fits = (into: Texture, given: Pixels | Texture, ...mends: Mend[]) =>
  fitPicture(
    into,
    'data' in given ? { pixels: given } : { pixels: decodeImage(given), texture: given },
    new Set(mends),
    tools,
  );
const dds = (layout: string, width = 32, levels = 6): Texture => {
  const plain = slot('rgba8', 120);
  const chosen = layouts.get(layout)!;
  const image: Texture['image'] = ({ level }) => {
    const side = Math.max(1, width >> level);
    return chosen.encode!({ width: side, height: side, data: filled(side, side, 120).data });
  };
  const shape = { width, height: width, levels, depth: 1, layers: 1, faces: 1 };
  return readDds(writeDds({ ...plain, ...shape, layout: chosen, image }), 'given.dds');
};

describe('pictures', () => {
  test('one of the right size fits and its error is measured', async () => {
    const { bytes, findings } = await fits(slot('bc3'), filled(32, 32, 255));
    expect(bytes).toBeDefined();
    expect(worst(findings)).toBe('fits');
    expect(worded(findings.at(-1)!, { picture: pictureWording }).what).toMatch(
      /BC3, 32 x 32, 6 levels, (nothing lost|red .* dB)/,
    );
  });

  test('another size does not fit until it is mended', async () => {
    expect(await fits(slot('bc1'), filled(20, 32, 255))).toMatchObject({
      bytes: undefined,
      findings: [
        {
          state: 'does not fit',
          code: 'picture.other-size',
          facts: { given: { width: 20, height: 32 }, slot: { width: 32, height: 32 } },
          mend: 'resize',
        },
      ],
    });
    const mended = await fits(slot('bc1'), filled(20, 32, 255), 'resize');
    expect(worst(mended.findings)).toBe('look');
    expect(mended.bytes).toBeDefined();
  });

  test('transparency that the slot cannot keep does not fit until it is dropped', async () => {
    const first = await fits(slot('bc1'), filled(32, 32, 100));
    expect(first.findings[0]).toMatchObject({ state: 'does not fit', mend: 'drop alpha' });
    expect((await fits(slot('bc1'), filled(32, 32, 100), 'drop alpha')).bytes).toBeDefined();
  });

  test('alpha that is all or nothing fits where one bit of it is kept', async () => {
    const holes = filled(32, 32, 255);
    for (let i = 3; i < 400; i += 4) holes.data[i] = 0;
    const { bytes, findings } = await fits(slot('bc1'), holes);
    expect(worst(findings)).toBe('fits');
    expect(usesAlpha(decodeImage(openPicture(script, bytes!, 's', nodePrimitives)))).toBe(true);
  });

  test('transparency that goes missing is pointed out', async () => {
    const { findings } = await fits(slot('bc3', 120), filled(32, 32, 255));
    expect(findings[0]).toMatchObject({
      state: 'look',
      code: 'picture.lost-alpha',
    });
  });

  describe('a slot that becomes another one', () => {
    const containers: [string, (layout: Layout) => Texture][] = [
      ['wrapped by a script', (layout) => slot(layout, 120)],
      ['DDS', (layout) => dds(layout)],
      [
        'KTX2',
        (layout) => {
          const { levels, layout: own, image, width, height } = dds(layout);
          const shape = { layout: own, width, height, levels };
          const images = Array.from({ length: levels }, (_, level) => image({ ...FIRST, level }));
          return readKtx2(writeKtx2(flatTexture(shape, 'linear', images)), 'given.ktx2', nodePrimitives);
        },
      ],
    ];
    const reopened = (sort: string, bytes: Uint8Array): Texture =>
      sort === 'DDS'
        ? readDds(bytes, 'made')
        : sort === 'KTX2'
          ? readKtx2(bytes, 'made', nodePrimitives)
          : openPicture(script, bytes, 'made', nodePrimitives);

    test.each(containers)('%s: another codec, which keeps alpha', async (sort, make) => {
      const given = filled(32, 32, 100);
      const first = await fits(make('bc1'), given);
      expect(first.bytes).toBeUndefined();
      expect(first.findings.at(-1)).toMatchObject({
        code: 'picture.soft-alpha',
        facts: { layout: 'BC1', keeps: 'one bit', also: 'BC3' },
        also: 'as bc3',
      });
      const { bytes, findings } = await fits(make('bc1'), given, 'as bc3');
      const made = reopened(sort, bytes!);
      expect(made).toMatchObject({ width: 32, height: 32, levels: 6, layout: { name: 'bc3' } });
      expect(channelErrors(given, decodeImage(made)).alpha).toBeGreaterThan(40);
      expect(findings.at(-1)).toMatchObject({
        code: 'picture.reshaped',
        facts: { from: { layout: 'BC1' }, to: { layout: 'BC3' } },
      });
    });

    test.each(containers)('%s: its own size, with levels as far down', async (sort, make) => {
      const given = filled(64, 16, 255);
      const first = await fits(make('rgba8'), given);
      expect(first.findings.at(-1)!.also).toBe('own size');
      const { bytes } = await fits(make('rgba8'), given, 'own size');
      const made = reopened(sort, bytes!);
      expect(made).toMatchObject({ width: 64, height: 16, levels: 7, layout: { name: 'rgba8' } });
      expect(decodeImage(made).data).toEqual(given.data);
    });

    test('a head that cannot say a layout or a size offers none', async () => {
      const few = parseScript(
        script.text
          .replace(/layout: "if.*"/, "layout: if(layout == 2, 'bc1', 'unknown')")
          .replace('width: width\n', 'width: min(width, 32)\n'),
      );
      const { data } = filled(32, 32, 255);
      const bytes = writeSheet({ width: 32, height: 32, data: Buffer.from(data) }, 'bc1', 'colour');
      const made = openPicture(few, new Uint8Array(bytes), 's', nodePrimitives);
      expect(made.layouts!().map(({ name }) => name)).toEqual(['bc1']);
      expect((await fits(made, filled(32, 32, 100))).findings.at(-1)!.also).toBeUndefined();
      await expect(fits(made, filled(64, 32, 255), 'own size')).rejects.toThrow('a head that can say');
      expect((await fits(made, filled(32, 32, 255), 'as bc7')).bytes).toBeDefined();
    });
  });

  test('a DDS in the codec of the slot goes in level by level as it is', async () => {
    const given = dds('bc3');
    const { bytes, findings } = await fits(slot('bc3', 120), given);
    expect(worst(findings)).toBe('fits');
    const after = openPicture(script, bytes!, 's', nodePrimitives);
    for (const place of placesOf(after)) expect(after.image(place)).toEqual(given.image(place));
  });

  test('one in another codec does not fit until it is coded anew', async () => {
    const first = await fits(slot('bc3', 120), dds('bc1'));
    expect(first).toMatchObject({
      bytes: undefined,
      findings: [
        {
          state: 'does not fit',
          code: 'picture.other-codec',
          facts: { given: 'BC1', slot: 'BC3', keeps: 'one bit' },
          mend: 'convert codec',
        },
      ],
    });
    const mended = await fits(slot('bc3', 120), dds('bc1'), 'convert codec');
    expect(openPicture(script, mended.bytes!, 's', nodePrimitives).layout.name).toBe('bc3');
  });

  test('one whose levels end too early is coded anew, and says so', async () => {
    const { bytes, findings } = await fits(slot('bc3', 120), dds('bc3', 32, 1));
    expect(bytes).toBeDefined();
    expect(findings[0]).toMatchObject({
      state: 'look',
      code: 'picture.fewer-levels',
      facts: { given: 1, slot: 6 },
    });
  });

  test('a policy decides what becomes of what is only worth a look', () => {
    expect([under('refuse', 'look'), under('warn', 'look'), under('allow', 'look')]).toEqual([
      'does not fit',
      'look',
      'let pass',
    ]);
    for (const policy of POLICIES) expect(under(policy, 'does not fit')).toBe('does not fit');
  });
});

describe('texts', () => {
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
  const table = bytes('a\tone {coins}\nb\ttwo\n');

  test('changed lines are counted', () => {
    expect(fitText(table, bytes('a\tuno {coins}\nb\ttwo\n'), none).findings).toEqual([
      expect.objectContaining({
        state: 'fits',
        code: 'text.changed-lines',
        facts: { changed: 1, all: 2, added: 0, missing: 0 },
      }),
    ]);
  });

  test.each([
    ['a lost placeholder', 'a\tuno\nb\ttwo\n', 'look', 'lost-placeholders', { id: 'a', lost: ['{coins}'] }],
    ['a lost line', 'a\tone {coins}\n', 'does not fit', 'missing-lines', { count: 1, first: ['b'] }],
    ['a line without a tab', 'a one\n', 'does not fit', 'no-tab', {}],
    ['other line ends', 'a\tone {coins}\r\nb\ttwo\r\n', 'look', 'line-ends', { given: 'crlf', slot: 'lf' }],
  ])('%s', (_what, given, state, code, facts) => {
    const { findings } = fitText(table, bytes(given), none);
    expect(findings).toContainEqual({ state, code: `text.${code}`, facts });
    expect(worst(findings)).toBe(state);
  });

  test('another encoding is converted when asked', () => {
    const wide = new Uint8Array([0xff, 0xfe, ...Buffer.from('a\tone {coins}\nb\tzwölf\n', 'utf16le')]);
    expect(fitText(table, wide, none)).toMatchObject({
      bytes: undefined,
      findings: [{ mend: 'convert text' }],
    });
    expect(Buffer.from(fitText(table, wide, new Set<Mend>(['convert text'])).bytes!).toString()).toBe(
      'a\tone {coins}\nb\tzwölf\n',
    );
  });

  test('data is no text', () => {
    expect(fitText(table, new Uint8Array([1, 0, 2, 0]), none).findings[0]!.state).toBe('does not fit');
    expect(decodeAnyText(new Uint8Array([0x7a, 0x77, 0xf6, 0x6c, 0x66]))).toMatchObject({
      encoding: 'windows-1252',
      text: 'zwölf',
    });
  });
});
