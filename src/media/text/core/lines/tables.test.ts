import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { po } from 'gettext-parser';
import { readOpenTable, type LineTable } from '.';

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
const decode = (bytes: Uint8Array): string => new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
const wide = (text: string): Uint8Array => {
  const bytes = new Uint8Array(2 + 2 * text.length);
  bytes.set([0xff, 0xfe]);
  [...text].forEach((sign, i) => bytes.set([sign.charCodeAt(0) & 0xff, sign.charCodeAt(0) >> 8], 2 + 2 * i));
  return bytes;
};
const read = (text: string): LineTable => readOpenTable(encode(text))!;
const texts = ({ lines }: LineTable): Record<string, readonly (string | undefined)[]> =>
  Object.fromEntries(lines.map((line) => [line.key, line.texts]));

describe.each([
  ['Keys and tabs', 'title\tThe night ferry\n# of the jetty\njetty.fare\tFare: {coins}\n\nend\t\n'],
  ['Keys and tabs', 'title\tThe night ferry\r\njetty.fare\tFare: {coins}'],
  ['JSON', '{\n  "title": "The night ferry", // kept\n  "jetty.fare": "Fare: {coins}",\n  "n": 3\n}\n'],
  ['Keys and values', '; menu\ntitle = The night ferry\njetty.fare=Fare: {coins}\n'],
  ['CSV', 'key,text,note\ntitle,The night ferry,"first, of all"\njetty.fare,"Fare: {coins}",\n'],
  ['CSV', 'id;text\r\ntitle;The night ferry\r\njetty.fare;"Fare: {coins}"\r\n'],
])('%s: %j', (form, text) => {
  test('is read, and written with nothing changed but what was', () => {
    const table = read(text);
    expect(table.form).toBe(form);
    expect(texts(table)).toMatchObject({ title: ['The night ferry'], 'jetty.fare': ['Fare: {coins}'] });
    expect(decode(table.write([]))).toBe(text);
    const line = table.lines.findIndex(({ key }) => key === 'title');
    const now = decode(table.write([{ line, tongue: 0, text: 'Nattferja' }]));
    expect(now).toBe(text.replace('The night ferry', 'Nattferja'));
  });

  test('gets a further line, which is read again', () => {
    const table = read(text);
    const made = table.write([{ line: 0, tongue: 0, text: 'A' }], [{ key: 'new.one', texts: ['At last'] }]);
    const again = readOpenTable(made)!;
    expect(texts(again)).toMatchObject({
      title: ['A'],
      'jetty.fare': ['Fare: {coins}'],
      'new.one': ['At last'],
    });
    expect(again.lines).toHaveLength(table.lines.length + 1);
  });
});

test('a table of several languages, with speakers and limits', () => {
  const table = read('key,speaker,en,de,max\nhello,Odd,Hello,Hallo,8\nbye,,Bye,,\n');
  expect(table.tongues).toEqual(['en', 'de']);
  expect(table.lines[0]).toMatchObject({ speaker: 'Odd', texts: ['Hello', 'Hallo'], limit: { most: 8 } });
  expect(table.lines[1]).not.toHaveProperty('limit');
  const made = decode(table.write([{ line: 1, tongue: 1, text: 'Tschüss, du' }]));
  expect(made).toBe('key,speaker,en,de,max\nhello,Odd,Hello,Hallo,8\nbye,,Bye,"Tschüss, du",\n');
});

test('of a row only the cell that changes is written anew', () => {
  const text = 'key,de,note\r\n"a","x, ""y""","kept, as it is"\r\n b ,z\r\nc\r\n';
  const table = read(text);
  const write = (line: number, now: string): string => decode(table.write([{ line, tongue: 0, text: now }]));
  expect(write(0, 'new')).toBe(text.replace('"x, ""y"""', '"new"'));
  expect(write(1, 'new, "one"')).toBe(text.replace(',z', ',"new, ""one"""'));
  expect(write(2, 'late')).toBe(text.replace('\nc\r', '\nc,late\r'));
});

test.each([
  ['key,en,de\na,Hello,Hallo\nb,Bye\n', 'key,en,de,nl\na,Hello,Hallo,0\nb,Bye,,1\n'],
  ['ID;English;Note\r\na;Hello;x\r\n', 'ID;English;Note;Dutch\r\na;Hello;x;0\r\n'],
  ['key,ENG\na,"x,\ny"\n', 'key,ENG,NLD\na,"x,\ny",0\n'],
])('a further language is a further column: %j', (text, wanted) => {
  const made = read(text).withTongue!('nl', String);
  expect(decode(made)).toBe(wanted);
  expect(readOpenTable(made)!.tongues).toContain('nl');
});

test('a table in one language has no place for another', () => {
  expect(read('key,text\na,b\n').withTongue).toBeUndefined();
  expect(read('a\tb\n').withTongue).toBeUndefined();
});

describe('YAML', () => {
  const text =
    '# kept\nmenu:\n  start: Begin   # here too\n  count: 3\n  said: "He said: \\"no\\""\n  long: |\n    One\n    two\nlist:\n  - first\n  - 5\n';
  const table = (): LineTable => readOpenTable(encode(text), 'a.yaml')!;

  test('has its texts by the names that lead to them, and no numbers', () => {
    expect(table().form).toBe('YAML');
    expect(texts(table())).toEqual({
      'menu/start': ['Begin'],
      'menu/said': ['He said: "no"'],
      'menu/long': ['One\ntwo\n'],
      'list/0': ['first'],
    });
    expect(decode(table().write([]))).toBe(text);
  });

  test('what changes is written in quotes, and all else stays', () => {
    const made = table().write(
      [
        { line: 0, tongue: 0, text: 'Los: jetzt' },
        { line: 2, tongue: 0, text: 'Eins\nzwei' },
      ],
      [{ key: 'new', texts: ['Neu'] }],
    );
    expect(decode(made)).toBe(
      `${text.replace('Begin', '"Los: jetzt"').replace('|\n    One\n    two\n', '"Eins\\nzwei"\n')}"new": "Neu"\n`,
    );
    expect(texts(readOpenTable(made, 'a.yml')!)).toMatchObject({ 'menu/long': ['Eins\nzwei'], new: ['Neu'] });
  });

  test.each(['', 'prose alone', '- a\n- b\n', 'a: [b', '{a: 1}'])('%j is none', (none) => {
    expect(readOpenTable(encode(none), 'a.yaml')).toBeUndefined();
  });
});

describe('catalogues of gettext', () => {
  const text = `# a comment
msgid ""
msgstr ""
"Content-Type: text/plain; charset=UTF-8\\n"

#. said by Odd
#: ferry.c:3
msgctxt "jetty"
msgid "Mind the \\"third\\" plank."
msgstr "Achtung, "
"Planke."

msgid "one reed"
msgid_plural "%d reeds"
msgstr[0] "ein Halm"
msgstr[1] "%d Halme"

msgid "new"
msgstr ""

#~ msgid "gone"
#~ msgstr "weg"
`;

  test('are what a package reads of them, with what they are translated from', () => {
    const table = read(text);
    expect(table.form).toBe('PO');
    expect(table.lines).toEqual([
      {
        ...{ key: 'jetty|Mind the "third" plank.', origin: 'Mind the "third" plank.', note: 'said by Odd' },
        texts: ['Achtung, Planke.'],
      },
      { key: 'one reed[0]', origin: 'one reed', texts: ['ein Halm'] },
      { key: 'one reed[1]', origin: '%d reeds', texts: ['%d Halme'] },
      { key: 'new', origin: 'new', texts: [''] },
    ]);
    const theirs = po.parse(text).translations;
    expect(theirs.jetty!['Mind the "third" plank.']!.msgstr).toEqual(['Achtung, Planke.']);
    expect(theirs['']!['one reed']!.msgstr).toEqual(['ein Halm', '%d Halme']);
  });

  test('change in their quotes alone', () => {
    const now = decode(
      read(text).write([
        { line: 0, tongue: 0, text: 'Ein "Brett"\nweiter\\' },
        { line: 3, tongue: 0, text: 'neu' },
      ]),
    );
    expect(now).toBe(
      text
        .replace('"Achtung, "\n"Planke."', '"Ein \\"Brett\\"\\nweiter\\\\"')
        .replace('"new"\nmsgstr ""', '"new"\nmsgstr "neu"'),
    );
    expect(po.parse(now).translations.jetty!['Mind the "third" plank.']!.msgstr).toEqual([
      'Ein "Brett"\nweiter\\',
    ]);
  });

  test('get further lines, with their context where the catalogue has any, as a package reads them', () => {
    const added = [
      { key: 'jetty|Sit "down"\n', texts: ['Setz dich'] },
      { key: 'plain', texts: ['einfach'] },
      { key: 'empty', texts: [undefined] },
    ];
    const now = decode(read(text).write([{ line: 3, tongue: 0, text: 'neu' }], added));
    expect(now.startsWith(text.replace('"new"\nmsgstr ""', '"new"\nmsgstr "neu"'))).toBe(true);
    const theirs = po.parse(now).translations;
    expect(theirs.jetty!['Sit "down"\n']!.msgstr).toEqual(['Setz dich']);
    expect(theirs['']!.plain!.msgstr).toEqual(['einfach']);
    expect(theirs['']!.empty!.msgstr).toEqual(['']);
    expect(
      read(now)
        .lines.slice(4)
        .map(({ key, texts: [said] }) => [key, said]),
    ).toEqual([
      ...[
        ['jetty|Sit "down"\n', 'Setz dich'],
        ['plain', 'einfach'],
        ['empty', ''],
      ],
    ]);
    // Without contexts the sign is one of the text; a last line without its end gets one.
    const bare = 'msgid "a"\nmsgstr "b"';
    const made = decode(read(bare).write([], [{ key: 'this|that', texts: ['x'] }]));
    expect(made).toBe('msgid "a"\nmsgstr "b"\n\nmsgid "this|that"\nmsgstr "x"\n');
    expect(() => read(text).write([], [{ key: 'one boat[0]', texts: [''] }])).toThrow(/one of several forms/);
  });

  test('whatever a text is, the package reads the same', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme' }).map((said) => said.replace(/\0/g, '')),
        (said) => {
          const now = decode(read(text).write([{ line: 3, tongue: 0, text: said }]));
          expect(read(now).lines[3]!.texts).toEqual([said]);
          expect(po.parse(now).translations['']!.new!.msgstr).toEqual([said]);
        },
      ),
    );
  });
});

test('values below headings have the heading in their keys', () => {
  const table = read('[menu]\nstart=Begin\n[places]\njetty=The jetty\n');
  expect(texts(table)).toEqual({ 'menu/start': ['Begin'], 'places/jetty': ['The jetty'] });
  const made = decode(table.write([], [{ key: 'places/reed', texts: ['Reeds'] }]));
  expect(made).toBe('[menu]\nstart=Begin\n[places]\njetty=The jetty\nreed=Reeds\n');
});

test('a table in UTF-16 stays one, and its texts are counted in its bytes', () => {
  const table = readOpenTable(wide('a\tFähre\nb\t\n'))!;
  expect(texts(table)).toEqual({ a: ['Fähre'], b: [''] });
  expect(table.bytesOf('Fähre')).toBe(10);
  expect(table.write([{ line: 0, tongue: 0, text: 'Kai' }])).toEqual(wide('a\tKai\nb\t\n'));
});

test('windows-1252 has no sign for some, which says so', () => {
  const table = readOpenTable(Uint8Array.from([0x61, 9, 0x46, 0xe4, 10]))!;
  expect(texts(table)).toEqual({ a: ['Fä'] });
  expect(() => table.write([{ line: 0, tongue: 0, text: 'Łódź' }])).toThrow(/windows-1252/);
  expect(table.write([{ line: 0, tongue: 0, text: '“ö”' }])).toEqual(
    Uint8Array.from([0x61, 9, 0x93, 0xf6, 0x94, 10]),
  );
});

test.each([
  ['nothing', ''],
  ['a scene', '{"number": 3}'],
  ['JSON that is cut', '{"a": "b'],
  ['prose', 'It was night, and the ferry was late.\nNobody came.'],
  ['code', 'function a() {\n  return 1;\n}\n'],
  ['numbers with tabs', '1\t2\t3\n4\t5\t6\n'],
  ['nested beyond sense', '['.repeat(100_000)],
])('%s is no table of texts', (_, text) => {
  expect(readOpenTable(encode(text))).toBeUndefined();
});

test('bytes of data are none', () => {
  expect(readOpenTable(Uint8Array.from([0, 1, 2, 3, 255, 0, 0]))).toBeUndefined();
});

test('what a form cannot hold is refused, and nothing is written', () => {
  expect(() => read('a\tb\n').write([{ line: 0, tongue: 0, text: 'x\ny' }])).toThrow(/a line break/);
  expect(() => read('a\tb\n').write([], [{ key: 'x\ty', texts: [''] }])).toThrow(/a tab/);
});

const sign = fc.string({ unit: 'binary', maxLength: 40 });
const key = fc.stringMatching(/^[a-z][a-z0-9_.]{0,8}$/);
const pairs = fc.uniqueArray(fc.tuple(key, sign), {
  selector: ([name]) => name,
  minLength: 1,
  maxLength: 12,
});

test('JSON holds every text, whatever signs it has', () => {
  fc.assert(
    fc.property(pairs, fc.array(sign, { minLength: 12, maxLength: 12 }), (rows, now) => {
      const table = read(JSON.stringify(Object.fromEntries(rows)));
      const made = table.write(rows.map((_, line) => ({ line, tongue: 0, text: now[line]! })));
      const back = JSON.parse(decode(made)) as Record<string, string>;
      // A lone half of a pair is written as an escape, so that it is the same again.
      expect(back).toEqual(Object.fromEntries(table.lines.map((line, i) => [line.key, now[i]])));
    }),
  );
});

test('CSV holds every text that UTF-8 can say', () => {
  const said = fc.string({ unit: 'grapheme', maxLength: 40 }).map((text) => text.replace(/\r/g, ''));
  fc.assert(
    fc.property(pairs, fc.array(said, { minLength: 12, maxLength: 12 }), (rows, now) => {
      const table = read(`key,text\n${rows.map(([name]) => `${name},x`).join('\n')}\n`);
      const again = readOpenTable(
        table.write(rows.map((_, line) => ({ line, tongue: 0, text: now[line]! }))),
      )!;
      expect(again.lines.map((line) => line.texts[0])).toEqual(now.slice(0, rows.length));
    }),
  );
});

test('lines with tabs hold every text without a break', () => {
  const said = fc.string({ unit: 'grapheme', maxLength: 40 }).map((text) => text.replace(/[\r\n]/g, ''));
  fc.assert(
    fc.property(pairs, fc.array(said, { minLength: 12, maxLength: 12 }), (rows, now) => {
      const table = read(rows.map(([name]) => `${name}\tx\n`).join(''));
      const again = readOpenTable(
        table.write(rows.map((_, line) => ({ line, tongue: 0, text: now[line]! }))),
      );
      // A table whose every text has a tab is one of columns.
      if (again) expect(again.lines.map((line) => line.texts[0])).toEqual(now.slice(0, rows.length));
      else expect(now.slice(0, rows.length).every((text) => text.includes('\t'))).toBe(true);
    }),
  );
});

test('columns of one language become those of another; quotes of its title stay', () => {
  const table = readOpenTable(Buffer.from('key,"de",note\nodd,Hallo,x\n'), 'text/de/a.csv')!;
  expect(Buffer.from(table.inTongue!('nl', [{ line: 0, tongue: 0, text: 'Hoi, jij' }])).toString()).toBe(
    'key,"nl",note\nodd,"Hoi, jij",x\n',
  );
});
