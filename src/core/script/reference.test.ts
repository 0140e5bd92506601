import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import { ciphers } from '../ciphers';
import { codecs } from '../codecs';
import {
  BODIES,
  companionsIn,
  NAMES,
  reference,
  referenceScripts,
  SAMPLES,
} from '../testing/reference-samples';
import { bare, expectCutsAreSeen, expectRoundTrip } from '../testing/round-trip';
import { functionGroups } from './index';

/** Every script of the reference is run on its sample. */
test('every script of the reference has a sample', () => {
  expect([...referenceScripts.keys()].sort()).toEqual(Object.keys(SAMPLES).sort());
});

describe.each(Object.keys(SAMPLES))('%s', (name) => {
  const script = referenceScripts.get(name)!;
  const { bytes, paths = NAMES, beside, names = [], keys = {} } = SAMPLES[name]!();
  const options = {
    ...bare,
    names,
    companion: companionsIn(beside),
    keys: new Map(Object.entries(keys)),
  };

  const entries = paths.map((path, i): [string, string] => [path, BODIES[i]!]);

  test('lists what is in it, proves itself, and takes changes', () => {
    expectRoundTrip(script, bytes, entries, options);
  });

  test('cut at every byte', () => {
    expectCutsAreSeen(script, bytes, options);
  });
});

/** Words of the language, as the tables and lists of the reference introduce them. */
const CONSTRUCTS: Readonly<Record<string, readonly string[]>> = {
  sections: [...sectionNames()],
  fields: [
    'fixed',
    'derived',
    'free',
    'value',
    'if',
    'count',
    'until',
    'while',
    'size',
    'seal',
    'bits',
    'enum',
    'proves',
    'fill',
    'end',
    'by',
    'cases',
    'else',
    'about',
  ],
  files: ['name', 'of', 'field', 'pieces', 'unit', 'in'],
  parts: ['type', 'at', 'align', 'next', 'each'],
  entries: [
    'each',
    'where',
    'path',
    'hash',
    'hashing',
    'names',
    'size',
    'modified',
    'show',
    'sorted',
    'payload',
    'from',
    'order',
    'identical',
    'function',
    'seed',
    'case',
    'separator',
    'extension',
    'before',
    'behind',
    'bits',
    'half',
  ],
  pictures: [
    ...[
      'width',
      'height',
      'layout',
      'levels',
      'first',
      'rows',
      'align',
      'bottom first',
      'interlace',
      'planes',
    ],
    ...['palette', 'bytes', 'entry', 'colours', 'see-through', 'see-through colour', 'several', 'origin'],
  ],
  lines: ['encoding', 'ends', 'key', 'language', 'speaker', 'note', 'limit', 'limit in'],
  sounds: [
    'codec',
    'rate',
    'channels',
    'bits',
    'signed',
    'samples',
    'block',
    'high first',
    'turn',
    'loop',
    'markers',
  ],
  steps: [
    ...codecs.names(),
    ...ciphers.names(),
    'blocks',
    'skip',
    'first',
    'every',
    'tail',
    'raw bit',
    'raw',
    'table',
    'each',
    'sizes',
  ],
};
const TYPES =
  'u8 u16 u24 u32 u64 i8 i16 i32 i64 f32 f64 uleb sleb vlq digits( bytes( text( ztext ctext( pad( align('.split(
    ' ',
  );
const NAMES_OF_VALUES =
  'self parent position following preceding payload here nothing file.size file.name file.stem file.ending key. parameter. outer'.split(
    ' ',
  );

/** The reference of sections for media, whose examples have tests of their own. */
const MEDIA = fs.readFileSync('docs/media-scripts.md', 'utf8');

/** The first column of the table of sections. */
function sectionNames(): Set<string> {
  const text = fs.readFileSync('docs/format-scripts.md', 'utf8');
  const table = text.slice(text.indexOf('## Sections'), text.indexOf('## Fields'));
  return new Set(
    [...table.matchAll(/^\| (`[^|]+`) +\|/gm)].flatMap(([, cell]) =>
      [...cell!.matchAll(/`([^`]+)`/g)].map(([, word]) => word!),
    ),
  );
}

test('every construct of the reference has its worked example', () => {
  const yaml = [...(reference + MEDIA).matchAll(/```yaml\n([\s\S]*?)```/g)]
    .map(([, text]) => text)
    .join('\n');
  const missing: string[] = [];
  const quoted = (word: string): string => word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  for (const [group, words] of Object.entries(CONSTRUCTS))
    for (const word of words)
      if (!new RegExp(`(?<![\\w-])${quoted(word)}['"]?\\s*[:}]|- ${quoted(word)}$`, 'm').test(yaml))
        missing.push(`${group}: ${word}`);
  for (const word of [...TYPES, ...NAMES_OF_VALUES])
    if (!new RegExp(`(?<![\\w-])${quoted(word)}`).test(yaml)) missing.push(word);
  for (const encoding of 'ascii utf-8 utf-16le utf-16be latin1 windows-1252 shift_jis'.split(' '))
    if (!yaml.includes(encoding)) missing.push(encoding);
  expect(missing).toEqual([]);
});

test('the reference names every codec and cipher', () => {
  for (const name of [...codecs.names(), ...ciphers.names()])
    expect(reference + MEDIA).toContain(`\`${name}`);
});

test('the list of codecs and ciphers is that of the code', () => {
  const listed = fs.readFileSync('docs/transforms.md', 'utf8').replace(/\\/g, '');
  for (const registry of [codecs, ciphers])
    for (const name of registry.names()) {
      const { about, settings } = registry.get(name)!;
      const row = listed.split('\n').find((line) => line.startsWith(`| \`${name}\` `));
      expect(row).toContain(about);
      for (const [word, { default: otherwise }] of Object.entries(settings ?? {}))
        expect(row).toMatch(
          new RegExp(`\`${word}\`: .*${otherwise === undefined ? 'must be said' : `\`${otherwise}\``}`),
        );
    }
});

test('the list of functions is that of the code', () => {
  const listed = fs.readFileSync('docs/functions.md', 'utf8');
  for (const [group, table] of functionGroups) {
    expect(listed).toContain(`## ${group}`);
    for (const { form, about } of Object.values(table)) {
      expect(listed).toContain(form);
      expect(listed.replace(/\\/g, '')).toContain(about.replace(/\|/g, ''));
    }
  }
});
