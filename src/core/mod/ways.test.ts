import { describe, expect, test } from '@jest/globals';
import { memorySource } from '../bytes';
import { proveArchive } from './prove';
import { parseScript } from '../script';
import { BytesBuilder } from '../testing/bytes-builder';
import { failure } from '../testing/holds';
import { BODIES, companionsIn, NAMES, referenceScripts, SAMPLES } from '../testing/reference-samples';
import { bare, changed, openWith, textsOf } from '../testing/round-trip';

const LONGER = 'much longer than what was there before it';

describe('where entries go', () => {
  const { bytes } = SAMPLES.box!();
  const box = openWith(referenceScripts.get('box')!, bytes);
  const placesOf = (archive: typeof box): number[] => archive.entries.map(({ offset }) => offset);
  const [first, second, third] = placesOf(box) as [number, number, number];

  test('shifted: what lies behind makes room', () => {
    const built = changed(box, 0, LONGER, bare);
    expect(placesOf(built)).toEqual([
      first,
      first + LONGER.length,
      first + LONGER.length + BODIES[1]!.length,
    ]);
  });

  test('appended: what is unchanged keeps its place, and the old bytes stay as a gap', () => {
    const built = changed(box, 0, LONGER, bare, 'appended');
    expect(placesOf(built)).toEqual([bytes.length, second, third]);
    expect(textsOf(built)).toEqual([LONGER, BODIES[1], BODIES[2]]);
    expect(built.coverage.gaps).toMatchObject([{ offset: first, length: BODIES[0]!.length }]);
    const packed = changed(built, 2, 'x', bare, 'packed');
    expect(packed.coverage.gaps).toEqual([]);
    expect(textsOf(packed)).toEqual([LONGER, BODIES[1], 'x']);
  });

  test('appended: what still fits stays where it is', () => {
    const built = changed(box, 1, 'tiny', bare, 'appended');
    expect(placesOf(built)).toEqual([first, second, third]);
    expect(built.source.length).toBe(bytes.length);
    expect(textsOf(built)[1]).toBe('tiny');
  });

  test('appended: a table behind the payloads moves on', () => {
    const { bytes: given } = SAMPLES.footer!();
    const built = changed(openWith(referenceScripts.get('footer')!, given), 0, LONGER, bare, 'appended');
    expect(placesOf(built).slice(1)).toEqual([BODIES[0]!.length, BODIES[0]!.length + BODIES[1]!.length]);
    expect(textsOf(built)[0]).toBe(LONGER);
  });

  test.each(['pool', 'folders'])('appended is refused where the order is fixed: %s', (name) => {
    const archive = openWith(referenceScripts.get(name)!, SAMPLES[name]!().bytes);
    expect(failure(() => changed(archive, 0, LONGER.repeat(2), bare, 'appended')).message).toContain(
      name === 'pool' ? 'fixed order' : 'follow each other',
    );
  });

  test('appended is refused where a payload lies right behind a record of its own', () => {
    const script = parseScript(`
format script: 1
title: Tied
recognise: [{ at: 0, text: TIED }]
records:
  index: { tag: text(4), count: u16, rows: { type: row, count: count } }
  row: { at: { type: u16, derived: 'place(heads[position])' } }
  head: { size: { type: u16, derived: size(payload) } }
parts:
  index: { type: index, at: 0 }
  heads: { type: head, each: index.rows, at: at }
entries: { each: heads, payload: { at: end(self), size: size } }
`);
    const tied = new BytesBuilder().raw('TIED').number(2, 2).number(10, 2).number(15, 2);
    tied.number(3, 2).raw('one').number(3, 2).raw('two');
    const archive = openWith(script, tied.bytes());
    expect(textsOf(changed(archive, 0, LONGER, bare))).toEqual([LONGER, 'two']);
    expect(failure(() => changed(archive, 0, LONGER, bare, 'appended')).message).toContain(
      'right behind a record of its own',
    );
  });
});

describe('equal entries', () => {
  const sample = SAMPLES.volumes!();
  const options = { ...bare, companion: companionsIn(sample.beside) };
  const archive = openWith(referenceScripts.get('volumes')!, sample.bytes, options);

  test('lie in the file once where the script says so', () => {
    const built = changed(archive, 0, BODIES[2]!, options);
    expect(built.entries[0]!.offset).toBe(built.entries[2]!.offset);
    expect(textsOf(built)).toEqual([BODIES[2], BODIES[1], BODIES[2]]);
    // And one that is changed again goes its own way.
    const again = changed(built, 2, LONGER, {
      ...options,
      companion: (_name, _type, number) => built.files[number + 1]!.space.source,
    });
    expect(textsOf(again)).toEqual([BODIES[2], BODIES[1], LONGER]);
  });

  test('lie there each for itself where it says nothing', () => {
    const box = openWith(referenceScripts.get('box')!, SAMPLES.box!().bytes);
    const built = changed(box, 0, BODIES[2]!, bare);
    expect(new Set(built.entries.map(({ offset }) => offset)).size).toBe(3);
  });
});

describe('files of an archive', () => {
  const sample = SAMPLES.volumes!();
  const script = referenceScripts.get('volumes')!;

  test('a missing one is named before anything else', () => {
    const { 'sample_01.vol': first } = sample.beside!;
    const opening = () =>
      openWith(script, sample.bytes, { ...bare, companion: companionsIn({ 'sample_01.vol': first! }) });
    expect(failure(opening)).toMatchObject({ code: 'part-missing' });
    expect(failure(opening).message).toContain('sample_02.vol');
  });

  test('a damaged length in one of them is told with its file', () => {
    const second = sample.beside!['sample_02.vol']!.slice();
    second[4]! += 1;
    const opening = () =>
      openWith(script, sample.bytes, {
        ...bare,
        companion: companionsIn({ ...sample.beside, 'sample_02.vol': second }),
      });
    expect(failure(opening).message).toMatch(/heads\[1\]\.length, byte 4/);
  });

  test.each(["'../other.vol'", "'/etc/passwd'", "'a//b'", "''"])('a name that leads away: %s', (name) => {
    const leading = parseScript(
      `format script: 1\ntitle: Away\nrecognise: [{ at: 0, text: AWAY }]\nrecords: { all: { tag: text(4) } }\nfiles: { data: { name: "${name}" } }\nparts: { all: { type: all, at: 0 }, more: { type: all, in: data, at: 0 } }\nentries: { each: '0', payload: { at: '0', size: '0' } }`,
    );
    const asked: string[] = [];
    const opening = () =>
      openWith(leading, Buffer.from('AWAY'), {
        ...bare,
        companion(fileName) {
          asked.push(fileName);
          return memorySource(Buffer.from('AWAY'));
        },
      });
    expect(failure(opening).code).toBe('unsafe-path');
    expect(asked).toEqual([]);
  });

  test('a file beyond the count', () => {
    const bytes = sample.bytes.slice();
    bytes[8] = 9;
    expect(
      failure(() => openWith(script, bytes, { ...bare, companion: companionsIn(sample.beside) })).message,
    ).toContain('a number below 2');
  });

  test('names go with the name of the archive', () => {
    const archive = openWith(script, sample.bytes, { ...bare, companion: companionsIn(sample.beside) });
    expect(archive.files.map((file) => archive.nameBeside(file, 'new.pack'))).toEqual([
      'sample',
      'new_01.vol',
      'new_02.vol',
    ]);
    expect(NAMES.map((_, i) => archive.entries[i]!.file)).toEqual([1, 2, 1]);
  });

  test('a name that leads away only under the new name of the archive is refused as well', () => {
    const text = script.text.replace(
      "file.stem + '_' +",
      "if(file.stem == 'sample', 'sample_', '../../away_') +",
    );
    const archive = openWith(parseScript(text), sample.bytes, {
      ...bare,
      companion: companionsIn(sample.beside),
    });
    expect(failure(() => archive.nameBeside(archive.files[1]!, 'new.pack')).code).toBe('unsafe-path');
  });

  test('payloads in order begin where the script says in every file, also when all is laid out anew', () => {
    const inOrder = parseScript(`
format script: 1
title: In order
recognise: [{ at: 0, text: INOR }]
records:
  index: { tag: text(4), rows: { type: row, count: rest } }
  row: { volume: u8, size: { type: u8, derived: size(payload) } }
files: { volumes: { name: "text(position) + '.vol'", count: any } }
parts: { index: { type: index, at: 0 } }
entries: { each: index.rows, size: size, payload: { in: 'volumes[volume]', from: '6', size: size } }
`);
    const beside = { '0.vol': Buffer.from('head--onethree'), '1.vol': Buffer.from('other-two') };
    const index = Buffer.from([...Buffer.from('INOR'), 0, 3, 1, 3, 0, 5]);
    const options = { ...bare, companion: companionsIn(beside) };
    const archive = openWith(inOrder, index, options);
    expect(textsOf(archive)).toEqual(['one', 'two', 'three']);
    expect(proveArchive(archive, options)).toMatchObject({ holds: true });
    const packed = changed(archive, 0, 'longer', options, 'packed');
    expect(textsOf(packed)).toEqual(['longer', 'two', 'three']);
    expect(packed.entries.map(({ offset }) => offset)).toEqual([6, 6, 12]);
  });
});

describe('payloads in pieces', () => {
  const script = referenceScripts.get('tracks')!;

  /** Two tracks: one with two pieces, both empty, and one without any. */
  function hollow(): Uint8Array {
    const out = new BytesBuilder().raw('TRKS').number(2, 2);
    for (const track of [1, 2]) out.number(track, 2).number(0, 4).padded(`t${track}`, 8);
    for (let i = 0; i < 2; i++)
      out
        .number(1, 2)
        .number(0, 2)
        .fill(Math.ceil(out.length / 4) * 4);
    return out.bytes();
  }

  test('what was empty can grow, into its last piece', () => {
    const built = changed(openWith(script, hollow()), 0, 'no longer empty', bare);
    expect(textsOf(built)).toEqual(['no longer empty', '']);
  });

  test('what has no piece cannot take bytes, and says so instead of losing them', () => {
    expect(failure(() => changed(openWith(script, hollow()), 1, 'lost', bare))).toMatchObject({
      code: 'does-not-fit',
      facts: { fieldPath: 't2' },
    });
  });

  test('a changed length is cut in whole units', () => {
    const inUnits = parseScript(script.text.replace('field: data }', "field: data, unit: '4' }"));
    const archive = openWith(inUnits, SAMPLES.tracks!().bytes);
    const built = changed(archive, 1, 'abcdefghijklmnopqrstuvwxyz0123', bare);
    expect(textsOf(built)[1]).toBe('abcdefghijklmnopqrstuvwxyz0123');
    const sizes = built.entries[1]!.pieces!.map((piece) => Number(piece.get(1)));
    expect(sizes.slice(0, -1).every((size) => size % 4 === 0)).toBe(true);
    expect(sizes.reduce((sum, size) => sum + size, 0)).toBe(30);
  });
});

test('a negative length in a table of rows is told at its own row and byte', () => {
  const script = parseScript(`
format script: 1
title: Negative
recognise: [{ at: 0, text: NEGA }]
records:
  head: { tag: text(4), rows: { type: row, count: '2' } }
  row: { length: i8, name: text(length) }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: name, payload: { at: '0', size: '0' } }
`);
  const bytes = Buffer.from([...Buffer.from('NEGA'), 2, 97, 98, 0xfb, 0, 0, 0]);
  expect(failure(() => openWith(script, bytes))).toMatchObject({
    code: 'truncated',
    facts: { fieldPath: 'head.rows[1]', byteOffset: 8 },
  });
});
