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
  const { bytes, paths = NAMES, beside } = SAMPLES[name]!();
  const options = { ...bare, companion: companionsIn(beside) };

  const entries = Object.fromEntries(paths.map((path, i) => [path, BODIES[i]!]));

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
