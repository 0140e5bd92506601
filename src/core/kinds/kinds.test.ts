import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  codeOfKind,
  containerOf,
  countsByKind,
  kindOfCode,
  KINDS,
  looksLikeText,
  NO_RULES,
  NOTHING_SAID,
  START_BYTES,
  tellKind,
  typeOfHead,
  type KindRules,
  type ScriptKind,
} from '.';

const latin = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'latin1'));
const told = (path: string, bytes: Uint8Array, rules: KindRules = NO_RULES): string => {
  const { kind, by } = tellKind(path, { bytes: bytes.subarray(0, START_BYTES), length: bytes.length }, rules);
  return `${kind} by ${by}`;
};

describe('codes', () => {
  test('stay with their kinds for ever', () => {
    // Catalogues on disks bear these numbers.
    expect(Object.fromEntries(KINDS.map((kind) => [kind, codeOfKind(kind)]))).toEqual({
      ...{
        picture: 1,
        sound: 2,
        film: 3,
        model: 4,
        text: 5,
        archive: 6,
        program: 7,
        data: 8,
        font: 9,
        table: 10,
      },
    });
    for (const kind of KINDS) expect(kindOfCode(codeOfKind(kind))).toBe(kind);
    expect([kindOfCode(0), kindOfCode(200)]).toEqual(['data', 'data']);
    expect(countsByKind([0, 5, 0, 7])).toMatchObject({ picture: 5, sound: 0, film: 7, data: 0 });
  });
});

describe('heads', () => {
  const mpeg = Buffer.alloc(900);
  mpeg.set([0xff, 0xfb, 0x90, 0x00]);
  mpeg.set([0xff, 0xfb, 0x90, 0x00], 417);
  const pages = (codec: string): Uint8Array => latin(`OggS\0\x02${'\0'.repeat(22)}${codec}${'x'.repeat(40)}`);
  const exe = Buffer.alloc(256);
  exe.write('MZ');
  exe.writeUInt32LE(128, 60);
  exe.write('PE\0\0', 128);
  const icon = Buffer.alloc(60);
  icon.set([0, 0, 1, 0, 1, 0, 16, 16, 0, 0]);
  icon.writeUInt32LE(22, 18);
  const bitmap = Buffer.alloc(60);
  bitmap.write('BM');
  bitmap.writeUInt32LE(40, 14);

  test.each<[string, Uint8Array, string]>([
    ['RIFF with its form', latin('RIFF\x24\0\0\0WAVEfmt '), 'sound wav'],
    ['RIFF of pictures', latin('RIFF\x24\0\0\0WEBPVP8 '), 'picture webp'],
    ['RIFF of film', latin('RIFF\x24\0\0\0AVI LIST'), 'film avi'],
    ['RIFF of something else', latin('RIFF\x24\0\0\0BRDSLIST'), 'data riff'],
    ['a still picture in ISO media', latin('\0\0\0\x1cftypavif\0\0\0\0mif1'), 'picture avif'],
    ['a sound in ISO media', latin('\0\0\0\x1cftypM4A \0\0\0\0'), 'sound m4a'],
    ['a film in ISO media', latin('\0\0\0\x1cftypisom\0\0\0\0'), 'film mp4'],
    ['Ogg Vorbis', pages('\x01vorbis'), 'sound ogg'],
    ['Ogg Opus', pages('OpusHead'), 'sound opus'],
    ['Ogg Theora', pages('\x80theora'), 'film ogv'],
    ['WebM', latin('\x1aE\xdf\xa3\x9f\x42\x86\x81\x01\x42\x82\x84webm'), 'film webm'],
    ['MPEG sound without a tag', mpeg, 'sound mp3'],
    ['a program for Windows', exe, 'program exe'],
    ['an icon', icon, 'picture ico'],
    ['a bitmap', bitmap, 'picture bmp'],
    ['layers in a ZIP', latin(`PK\x03\x04${'\0'.repeat(26)}mimetypeimage/openraster`), 'picture ora'],
    ['any other ZIP', latin(`PK\x03\x04${'\0'.repeat(26)}name.txt`), 'archive zip'],
    ['tar', latin(`${'a.txt'.padEnd(257, '\0')}ustar\x0000`), 'archive tar'],
  ])('%s', (_what, bytes, expected) => {
    const { kind, ending } = typeOfHead(bytes)!;
    expect(`${kind} ${ending}`).toBe(expected);
  });

  test('a TAR of before POSIX, by the sum of its head', () => {
    const head = Buffer.alloc(512);
    head.write('a.txt');
    head.write('0000644\0', 100);
    const sum = head.reduce((all, byte) => all + byte, 8 * 0x20);
    head.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148);
    expect(typeOfHead(head)).toEqual({ kind: 'archive', ending: 'tar' });
    head[3] = 0x7a;
    expect(typeOfHead(head)).toBeUndefined();
  });

  test.each([
    ['two letters that begin many words', 'BMW and other cars'],
    ['a word that begins like a program', 'MZ is a region, and this is a text about it'],
    ['half of a sign', 'RIF'],
    ['a frame of MPEG with none behind it', `\xff\xfb\x90\x00${'\0'.repeat(900)}`],
    ['nothing', ''],
  ])('%s says nothing', (_what, text) => expect(typeOfHead(latin(text))).toBeUndefined());

  test('any bytes are looked at without an error', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 600 }),
        fc.nat(12),
        fc.constantFrom('', 'RIFF', 'OggS\0', 'MZ', '\0\0\x01'),
        (bytes, at, sign) => {
          const head = bytes.slice();
          if (head.length > at + sign.length) head.set(latin(sign), at === 12 ? 0 : at);
          typeOfHead(head);
          tellKind('a.tga', { bytes: head, length: head.length }, NO_RULES);
          looksLikeText(head, true);
        },
      ),
    );
  });

  test('one container by several endings', () => {
    expect(['opus', 'webm', 'm4a', 'png'].map(containerOf)).toEqual(['ogg', 'mkv', 'mp4', 'png']);
  });
});

describe('texts', () => {
  const utf16 = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'utf16le'));
  test.each<[string, Uint8Array, boolean]>([
    ['ASCII', latin('# settings\nvolume = 3\r\n\tname = x\f'), true],
    ['UTF-8', new Uint8Array(Buffer.from('Мост über 橋')), true],
    ['Windows-1252', latin('H\xf6he der Br\xfccke: \x80 5'), true],
    ['Shift_JIS', new Uint8Array([0x8b, 0xb4, 0x82, 0xcc, 0x8f, 0xe3]), true],
    ['UTF-16 with a mark', new Uint8Array([0xff, 0xfe, ...utf16('bridge')]), true],
    ['UTF-16 without one', utf16('the bridge is long'), true],
    ['numbers of 16 bits', new Uint8Array(new Uint16Array([3, 9, 700, 12, 5, 88, 1, 2]).buffer), false],
    ['numbers of 32 bits', new Uint8Array(new Uint32Array([65, 66, 67, 68, 69, 70]).buffer), false],
    ['floats', new Uint8Array(new Float32Array([0.5, 1, 0.25, 3.75, 9]).buffer), false],
    ['the same float again and again', new Uint8Array(new Float32Array(90).fill(0.37).buffer), false],
    ['Windows-1251', latin('\xcc\xee\xf1\xf2 \xf7\xe5\xf0\xe5\xe7 \xf0\xe5\xea\xf3'), true],
    [
      'Shift_JIS between words',
      new Uint8Array([...latin('name = '), 0x8b, 0xb4, 0x82, 0xcc, 0x8f, 0xe3, 0x0a]),
      true,
    ],
    ['a zero in the middle', latin('name\0value'), false],
    ['nothing', new Uint8Array(0), false],
  ])('%s', (_what, bytes, expected) => expect(looksLikeText(bytes, true)).toBe(expected));

  test('a character that is cut at the end of what was read is none that is wrong', () => {
    const bytes = new Uint8Array(Buffer.from('橋'.repeat(200)));
    for (const length of [510, 511, 512]) expect(looksLikeText(bytes.subarray(0, length), false)).toBe(true);
  });

  test('numbers are none, whatever they are', () => {
    const numbers = [
      fc.float32Array({
        minLength: 24,
        maxLength: 128,
        min: Math.fround(0.01),
        max: 4000,
        noNaN: true,
        noDefaultInfinity: true,
      }),
      fc.uint16Array({ minLength: 48, maxLength: 256, min: 300 }),
      fc.int32Array({ minLength: 24, maxLength: 128 }),
    ];
    for (const some of numbers)
      fc.assert(
        fc.property(some, ({ buffer, byteOffset, byteLength }) => {
          expect(looksLikeText(new Uint8Array(buffer, byteOffset, byteLength), true)).toBe(false);
        }),
        { seed: 17, numRuns: 300 },
      );
  });

  test('noise is none', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 200, maxLength: 512 }), (bytes) => {
        expect(looksLikeText(bytes, true)).toBe(false);
      }),
      // Texts by chance are one in many millions.
      { seed: 16, numRuns: 500 },
    );
  });
});

describe('what a thing is', () => {
  const tga = (width: number, height: number): Uint8Array => {
    const bytes = new Uint8Array(18 + width * height * 4);
    bytes[2] = 2;
    bytes[12] = width;
    bytes[14] = height;
    bytes[16] = 32;
    return bytes;
  };
  const script = (kind: ScriptKind['kind'], mark: string, more: Partial<ScriptKind> = {}): ScriptKind => ({
    kind,
    marks: mark ? [[{ at: 0, bytes: latin(mark) }]] : [],
    endings: [],
    isStated: false,
    ...more,
  });
  const rules = (...scripts: ScriptKind[]): KindRules => ({ said: NOTHING_SAID, scripts });
  const png = latin('\x89PNG\r\n\x1a\n\0\0\0\rIHDR');
  const noise = new Uint8Array(Array.from({ length: 64 }, (_, i) => (i * 91) ^ 0x97));

  test('bytes count for more than endings, and endings for what has no sign', () => {
    expect(told('a.wav', png)).toBe('picture by bytes');
    expect(told('a', png)).toBe('picture by bytes');
    expect(told('readme', latin('Read me first.\n'))).toBe('text by bytes');
    expect(told('shader.bin', latin('void main() {}\n'))).toBe('text by bytes');
    expect(told('a.png', noise)).toBe('data by nothing');
    expect(told('a.obj', latin('v 0 0 1\nf 1 2 3\n'))).toBe('model by bytes');
    expect(told('a.gltf', latin('{"asset":{"version":"2.0"}}'))).toBe('model by bytes');
    expect(told('a.fbx', noise)).toBe('model by ending');
    expect(told('stuff/.hidden', noise)).toBe('data by nothing');
  });

  test('a TGA and a binary STL are told by how long they say that they are', () => {
    expect(told('skin', tga(4, 4))).toBe('picture by bytes');
    expect(told('skin.tga', tga(4, 4).subarray(0, 40))).toBe('picture by ending');
    expect(told('skin.tga', noise)).toBe('data by nothing');
    const runs = tga(4, 4).subarray(0, 40).slice();
    runs[2] = 10;
    expect(told('skin', runs)).toBe('picture by bytes');
    runs[5] = 3;
    expect(told('skin', runs)).toBe('data by nothing');
    const stl = new Uint8Array(84 + 50 * 2);
    stl[80] = 2;
    expect(told('part', stl)).toBe('model by bytes');
    expect(told('part', stl.subarray(0, 180))).toBe('data by nothing');
  });

  test('what a script states counts for more than signs, what follows from it less', () => {
    expect(told('a.x', png, rules(script('film', '\x89PNG', { isStated: true })))).toBe('film by script');
    expect(told('a.x', png, rules(script('archive', '\x89PNG')))).toBe('picture by bytes');
    expect(told('a.x', latin('BOX1\0\0'), rules(script('archive', 'BOX1')))).toBe('archive by script');
    expect(told('a.box', noise, rules(script('model', '', { endings: ['.BOX'] })))).toBe('model by script');
    // A mark that is not there says that it is none, whatever its ending.
    expect(told('a.box', noise, rules(script('model', 'BOX1', { endings: ['.box'] })))).toBe(
      'data by nothing',
    );
    const last: ScriptKind = { ...script('sound', ''), marks: [[{ at: -4, bytes: latin('DONE') }]] };
    expect(told('a', latin('\0\x01\x02\x03DONE'), rules(last))).toBe('sound by script');
  });

  test('where no bytes can be had, endings say what they can', () => {
    const of = (path: string, ...scripts: ScriptKind[]): string =>
      tellKind(path, undefined, rules(...scripts)).kind;
    expect([of('a.png'), of('A.WAV'), of('b.lua'), of('c'), of('d.sheet')]).toEqual([
      ...['picture', 'sound', 'text', 'data', 'data'],
    ]);
    expect(of('d.sheet', script('picture', 'SHEET', { endings: ['.sheet'] }))).toBe('picture');
  });

  test('what the user said counts for most: of a path, then of an ending', () => {
    const said = {
      paths: new Map([['odd/one.dat', 'sound' as const]]),
      endings: new Map([['dat', 'picture' as const]]),
    };
    const own: KindRules = { said, scripts: [] };
    expect(told('odd/one.dat', png, own)).toBe('sound by user');
    expect(told('odd/two.DAT', latin('text'), own)).toBe('picture by user');
    expect(told('odd/two.day', latin('text'), own)).toBe('text by bytes');
  });
});
