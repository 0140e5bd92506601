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
  const { bytes, paths = NAMES, beside, names = [] } = SAMPLES[name]!();
  const options = { ...bare, names, companion: companionsIn(beside) };

  const entries = paths.map((path, i): [string, string] => [path, BODIES[i]!]);

  test('lists what is in it, proves itself, and takes changes', () => {
    expectRoundTrip(script, bytes, entries, options);
  });

  test('cut at every byte', () => {
    expectCutsAreSeen(script, bytes, options);
  });
});

test('the reference names every codec and cipher', () => {
  for (const name of [...codecs.names(), ...ciphers.names()]) expect(reference).toContain(`\`${name}`);
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
