import { describe, expect, test } from '@jest/globals';
import { openArchive, type Archive, type Entry } from '@/core/archive';
import { collect, FormatError, memorySource, refOfBytes } from '@/core/bytes';
import { listArchive } from '@/core/catalogue';
import { kindOfCode } from '@/core/kinds';
import { planArchive } from '@/core/mod';
import { mediaScripts } from '@/core/testing/media-scripts';
import { emitted } from '@/core/wrapped';
import { fitBy } from '@/media/asking';
import type { MediaTools } from '@/media/medium';
import { MEDIA_NODE } from '@/media/node';
import { openModel } from '@/media/model/core';
import { writeOpenForm } from '@/media/model/core/open/open-form';
import { waving } from '@/media/testing/waving';
import { decodeImage, encodeHere } from '@/media/picture/core/texture';
import { plainForm, readWave, readWaveFacts, writeWave } from '@/media/sound/core/audio';
import { converterOf } from './convert';
import {
  besideEntry,
  describedIn,
  pathsMeant,
  sentAlong,
  withBeside,
  withSent,
  wrappedPictureOf,
  wrappedSoundOf,
} from './media-scripts';
import { pixelsBy, textureOf, toPng } from '@/media/picture/node/pictures';
import { nodePrimitives } from './primitives';
import type { ShelvedScript } from './script-shelf';

const none = (): undefined => undefined;

/** A bank of two takes and one face, as docs/media-scripts.md describes it. */
function bank(): Uint8Array {
  const text = (name: string): number[] => [...Buffer.from(name.padEnd(8, '\0'))];
  const le = (size: number, value: number): number[] =>
    Array.from({ length: size }, (_, i) => (value >> (8 * i)) & 255);
  const at = 8 + 2 * 18 + 14;
  return Uint8Array.from([
    ...[...Buffer.from('BANK'), 2, 0, 1, 0],
    ...[...text('low'), ...le(2, 8000), ...le(4, at), ...le(4, 4)],
    ...[...text('high'), ...le(2, 22050), ...le(4, at + 4), ...le(4, 3)],
    ...[...text('odd'), 2, 1, ...le(4, at + 7)],
    ...[0, 64, 128, 192, 1, 2, 3],
    ...[0xe0, 0x07, 0x1f, 0xf8],
  ]);
}

const open = (bytes: Uint8Array): Archive =>
  openArchive(mediaScripts.get('bank')!, memorySource(bytes, 'bank'), { primitives: nodePrimitives });
const bytesOf = (archive: Archive, entry: Entry): Uint8Array =>
  withBeside(collect(archive.plain(entry)), besideEntry(archive, entry.path), describedIn(archive, entry));

describe('entries that an archive describes', () => {
  const archive = open(bank());
  const [low, high, odd] = [...archive.entries] as [Entry, Entry, Entry];

  test('are what it says in lists', () => {
    const { lines, kinds } = listArchive(archive);
    expect(lines).toBeDefined();
    expect([...kinds].map(kindOfCode).sort()).toEqual(['picture', 'sound', 'sound']);
  });

  test('are heard at the rate of their row, and seen at its size', () => {
    const sound = wrappedSoundOf(bytesOf(archive, low), low.path, none)!;
    expect(readWaveFacts(sound.inner)).toMatchObject({ rate: 8000, bits: 8, frames: 4 });
    expect([...readWave(sound.inner).channels[0]!]).toEqual([0, 0.5, -1, -0.5]);
    expect(readWaveFacts(wrappedSoundOf(bytesOf(archive, high), high.path, none)!.inner).rate).toBe(22050);
    const picture = wrappedPictureOf(bytesOf(archive, odd), odd.path, none)!;
    expect([...decodeImage(picture).data]).toEqual([0, 255, 0, 255, 255, 0, 255, 255]);
  });

  test('travel to threads with what is said of them', () => {
    for (const entry of [low, odd]) {
      const along = structuredClone(sentAlong(bytesOf(archive, entry), entry.path, none))!;
      const bytes = withSent(collect(archive.plain(entry)).slice(), along);
      const found =
        wrappedSoundOf(bytes, entry.path, none)?.title ??
        wrappedPictureOf(bytes, entry.path, none)?.container;
      expect(found).toBe(entry === low ? 'Bank' : 'texels');
    }
  });

  test('are taken out in open formats, a broken one with its reason', async () => {
    const item = (entry: Entry, plain = collect(archive.plain(entry))) => ({
      plain: refOfBytes(plain),
      path: entry.path,
      beside: besideEntry(archive, entry.path),
      described: describedIn(archive, entry),
    });
    const made: (Uint8Array | FormatError)[] = [];
    const context = { mediaScripts: none, check: none };
    const take = (
      i: number,
      result: FormatError | { chunks(): Iterable<Uint8Array>; length: number },
    ): void => {
      made[i] = result instanceof FormatError ? result : collect(result).slice();
    };
    await converterOf('wav')!.convert([item(low), item(high)], context, take);
    expect(made.map((one) => readWaveFacts(one as Uint8Array).rate)).toEqual([8000, 22050]);
    await converterOf('png')!.convert([item(odd), item(odd, Uint8Array.of(1))], context, take);
    expect((await pixelsBy(made[0] as Uint8Array, 'a.png', none)).width).toBe(2);
    expect((made[1] as FormatError).message).toMatch(/4 bytes for 1 level of rgb565/);
  });

  test('are brought back: another length where the archive follows, the same size of a picture', async () => {
    const tools: MediaTools = {
      ...{ scripts: none, encodeImage: encodeHere },
      pixelsOf: (bytes, name) => pixelsBy(bytes, name, none),
      tracksOf: () => Promise.resolve(undefined),
    };
    const slotOf = (entry: Entry, kind: string) => ({
      bytes: bytesOf(archive, entry),
      name: entry.path,
      kind,
    });
    const tone = writeWave([Float32Array.of(0.5, -0.5, 0.25, 0, 0, 0)], plainForm(8000, 1, 'whole', 8));
    const sound = await fitBy(
      MEDIA_NODE,
      slotOf(low, 'sound'),
      { bytes: tone, name: 'a.wav' },
      new Set(),
      tools,
    );
    expect([...sound.bytes!]).toEqual([64, 192, 32, 0, 0, 0]);
    const png = await toPng({ width: 2, height: 1, data: Uint8Array.of(255, 0, 0, 255, 0, 0, 255, 255) });
    const picture = await fitBy(
      MEDIA_NODE,
      slotOf(odd, 'picture'),
      { bytes: new Uint8Array(png), name: 'a.png' },
      new Set(),
      tools,
    );
    expect([...picture.bytes!]).toEqual([0x00, 0xf8, 0x1f, 0x00]);
    const made = open(emitted(archive, [sound.bytes!, collect(archive.plain(high)), picture.bytes!]));
    const [first, , last] = [...made.entries] as [Entry, Entry, Entry];
    expect(readWaveFacts(wrappedSoundOf(bytesOf(made, first), first.path, none)!.inner).frames).toBe(6);
    expect([...decodeImage(textureOf(bytesOf(made, last), last.path, none)!).data]).toEqual([
      255, 0, 0, 255, 0, 0, 255, 255,
    ]);
    expect(planArchive(made, new Map()).length).toBe(made.entries.length === 3 ? bank().length + 2 : 0);
  });
});

test('a bank is not made larger than its script says that the program loads', () => {
  const archive = open(bank());
  const filled = (length: number) => new Map([[0, refOfBytes(new Uint8Array(length))]]);
  // Two takes and a face beside it, the first of them the one that is replaced.
  const others = bank().length - archive.entries[0]!.size;
  expect(planArchive(archive, filled(65_536 - others)).length).toBe(65_536);
  expect(() => planArchive(archive, filled(65_537 - others))).toThrow(
    /at most 65536 bytes.*Take 1 bytes out/,
  );
});

test('a path that is said means one beside the entry, or from the top', () => {
  expect(pathsMeant('a/b/c.fig', 'x.pal')).toEqual(['a/b/x.pal', 'x.pal']);
  expect(pathsMeant('c.fig', 'x.pal')).toEqual(['x.pal']);
});

test('the slot says whether what is given is read as a sound: a broken one is refused as such by a sound alone', async () => {
  const tools = { scripts: none, tracksOf: () => Promise.resolve(undefined) } as unknown as MediaTools;
  const broken = new Uint8Array(writeWave([new Float32Array(40)], plainForm(8000, 1)));
  // The head of Microsoft's ADPCM, and nothing of what it needs.
  broken[20] = 2;
  const given = { bytes: broken, name: 'broken.bin' };
  const into = (bytes: Uint8Array, kind: string) =>
    fitBy(MEDIA_NODE, { bytes, name: 'slot', kind }, given, new Set(), tools);
  const data = await into(Uint8Array.of(1, 2, 3), 'data');
  expect(data.findings[0]!.code).toBe('sound.for-no-sound');
  const text = await into(new Uint8Array(Buffer.from('a text that is long enough')), 'text');
  expect(text.findings[0]!.code).not.toBe('sound.wrapped-refused');
  const sound = await into(writeWave([new Float32Array(9)], plainForm(8000, 1)), 'sound');
  expect(sound.findings[0]).toMatchObject({
    state: 'does not fit',
    code: 'sound.wrapped-refused',
    facts: { error: { code: expect.any(String) as unknown } },
  });
});

test('the medium of the slot is asked first: a model goes into a file that only a script knows', async () => {
  const bytes = waving({ glad: [[3, 0, 0.5, 0]], far: [] });
  const script = mediaScripts.get('waving')!;
  const scripts: MediaTools['scripts'] = (source, section) =>
    section === 'model' && source.length === bytes.length
      ? ({ script } as unknown as ShelvedScript)
      : undefined;
  const tools = { scripts, tracksOf: () => Promise.resolve(undefined) } as unknown as MediaTools;
  const { form } = openModel(script, bytes, 'flag.wave', nodePrimitives);
  const glb = { bytes: await writeOpenForm(form, 'glb'), name: 'flag.glb' };
  const slot = { bytes, name: 'flag.wave', kind: 'model' };
  const fitted = await fitBy(MEDIA_NODE, slot, glb, new Set(), tools);
  expect(fitted.findings.map(({ code }) => code)).toEqual(['model.unchanged', 'model.clips-unchanged']);
  expect(fitted.bytes).toBe(bytes);
});
