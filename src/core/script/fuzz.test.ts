import { expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { readScriptFile } from '@/platform/node/script-shelf';
import { openArchive, type OpenOptions } from '../archive';
import { FormatError, memorySource } from '../bytes';
import { emit, planArchive, proveArchive } from '../mod';
import { entriesOf, holdBytes, holdScript, keys } from '../testing/holds';
import { companionsIn, referenceScripts, SAMPLES } from '../testing/reference-samples';
import { bare } from '../testing/round-trip';
import { Budget, parseScript, type Script } from './index';

/** More with ZERO_LATCH_FUZZ=200000; another seed with ZERO_LATCH_SEED. */
const CASES = Number(process.env.ZERO_LATCH_FUZZ ?? 6000);
const SLOWEST_MS = 5000;

/** The generator of Park and Miller (1988): the same mutations on every machine. */
function generator(seed: number): (below: number) => number {
  let state = seed % 2147483647 || 1;
  return (below) => {
    state = (state * 48271) % 2147483647;
    return state % below;
  };
}

const random = generator(Number(process.env.ZERO_LATCH_SEED ?? 20_261_123));
const EDGES = [0, 1, 0x7f, 0x80, 0xff];

/** Some bytes changed, a stretch cut out, doubled or zeroed. */
function mutated(bytes: Uint8Array): Uint8Array {
  let out = Uint8Array.from(bytes);
  for (let i = 1 + random(3); i > 0; i--) {
    const at = random(Math.max(1, out.length));
    const length = 1 + random(8);
    switch (random(6)) {
      case 0:
        out = Uint8Array.from([...out.subarray(0, at), ...out.subarray(at + length)]);
        break;
      case 1:
        out = Uint8Array.from([...out.subarray(0, at + length), ...out.subarray(at)]);
        break;
      case 2:
        out.fill(EDGES[random(EDGES.length)]!, at, at + length);
        break;
      case 3:
        out = out.slice(0, at);
        break;
      default:
        if (out.length > 0) out[at] = random(256);
    }
  }
  return out;
}

const SPLICES = [
  ' ',
  '0',
  '-1',
  '(',
  "'",
  '{',
  '}',
  ': ',
  '\n',
  'count',
  'rest',
  'self',
  'payload',
  'place(',
  '* 65536',
  '<< 60',
  'was(',
  'following.',
];

function mutatedText(text: string): string {
  const at = random(text.length);
  const cut = random(2) === 0 ? 0 : random(12);
  const from = random(text.length);
  const piece = random(3) === 0 ? text.slice(from, from + random(20)) : SPLICES[random(SPLICES.length)]!;
  return text.slice(0, at) + piece + text.slice(at + cut);
}

/** Opens, reads, rewrites and proves; what is wrong must be said in a FormatError, and soon. */
function exercise(script: Script, bytes: Uint8Array, options: OpenOptions): boolean {
  const started = performance.now();
  try {
    const archive = openArchive(script, memorySource(bytes, 'sample'), {
      ...options,
      budget: new Budget({ nodes: 20_000, bytes: 8 << 20, steps: 2_000_000 }),
    });
    let length = 0;
    for (const entry of archive.entries)
      try {
        for (const chunk of archive.plain(entry).chunks()) length += chunk.length;
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
      }
    const plan = planArchive(archive);
    length = 0;
    for (const file of plan.files) emit(file, { write: (part) => void (length += part.length) });
    plan.discard();
    expect(length).toBe(plan.length);
    return proveArchive(archive, options).holds;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return false;
  } finally {
    expect(performance.now() - started).toBeLessThan(SLOWEST_MS);
  }
}

function openFormats(): [string, Script, Uint8Array][] {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-fuzz-'));
  const run = (command: string, ...args: string[]): void => void execFileSync(command, args, { cwd: folder });
  try {
    fs.writeFileSync(path.join(folder, 'one.txt'), 'one '.repeat(40));
    fs.writeFileSync(path.join(folder, 'two.txt'), 'two');
    run('tar', '--format=posix', '-cf', 'a.tar', 'one.txt', 'two.txt');
    run('zip', '-q', 'a.zip', 'one.txt', 'two.txt');
    run('ar', 'rc', 'a.ar', 'one.txt', 'two.txt');
    return ['tar', 'zip', 'ar'].map((name) => [
      name,
      readScriptFile(`scripts/formats/${name}.yaml`),
      new Uint8Array(fs.readFileSync(path.join(folder, `a.${name}`))),
    ]);
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}

const subjects: [string, Script, Uint8Array][] = [
  ...Object.entries(SAMPLES).map(([name, sample]): [string, Script, Uint8Array] => [
    name,
    referenceScripts.get(name)!,
    sample().bytes,
  ]),
  ...openFormats(),
  ['hold', holdScript, holdBytes(entriesOf({ 'a.txt': 'some text '.repeat(50), b: 'b' }))],
  [
    'keyed hold',
    holdScript,
    holdBytes(entriesOf({ 'a.txt': 'some text', b: 'b' }), { key: Buffer.from(keys.get('game')!) }),
  ],
];
const sampleKeys = Object.values(SAMPLES).flatMap((sample) => Object.entries(sample().keys ?? {}));
const allKeys = new Map([...keys, ...sampleKeys]);
const options: OpenOptions = { ...bare, keys: allKeys, companion: companionsIn(SAMPLES.volumes!().beside) };

test.each(subjects)(
  '%s: mutated archives end in words',
  (_name, script, bytes) => {
    expect(exercise(script, bytes, options)).toBe(true);
    let refused = 0;
    const cases = Math.floor((CASES * 0.8) / subjects.length);
    for (let i = 0; i < cases; i++) if (!exercise(script, mutated(bytes), options)) refused++;
    // Most mutations break something; if hardly any were noticed, nothing would be looked at.
    expect(refused).toBeGreaterThan(cases / 5);
  },
  300_000,
);

test.each(subjects)(
  '%s: mutated scripts end in words',
  (_name, script, bytes) => {
    let understood = 0;
    // Few of them are still scripts: it goes on until one is.
    const cases = Math.floor((CASES * 0.2) / subjects.length);
    for (let i = 0; i < cases || (understood === 0 && i < 1000); i++) {
      let changed: Script | undefined;
      const text = mutatedText(script.text);
      try {
        changed = parseScript(text);
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
        expect(error.facts.line ?? error.facts.expected).toBeDefined();
      }
      if (!changed) continue;
      understood++;
      exercise(changed, bytes, options);
    }
    expect(understood).toBeGreaterThan(0);
  },
  300_000,
);
