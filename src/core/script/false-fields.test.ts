import { afterAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { readScriptFile } from '@/platform/node/script-shelf';
import { openArchive, type OpenOptions } from '../archive';
import { FormatError, memorySource } from '../bytes';
import { proveArchive } from '../mod';
import { entriesOf, holdBytes, holdScript } from '../testing/holds';
import { companionsIn, referenceScripts, SAMPLES } from '../testing/reference-samples';
import { bare } from '../testing/round-trip';
import { absolute, type RecordNode } from './model';
import { isItems } from './items';
import type { Script } from './types';
import type { Value } from './values';

/** An archive whose derived field is false is never taken for good, whichever field it is and whichever of its bytes. */
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-false-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

interface FieldPlace {
  readonly path: string;
  readonly at: number;
  readonly length: number;
}

/** Every derived number that lies in the opened file as it is. */
function derivedFields(value: Value, found: FieldPlace[] = []): FieldPlace[] {
  if (typeof value !== 'object') return found;
  if (isItems(value)) {
    for (let i = 0; i < value.length; i++) derivedFields(value.at(i), found);
    return found;
  }
  if (!('sort' in value)) return found;
  if (value.sort === 'region') return derivedFields(value.content, found);
  if (value.sort === 'record') addFields(value, found);
  return found;
}

function addFields(node: RecordNode, found: FieldPlace[]): void {
  const { space } = node;
  for (const field of node.type.fields) {
    const isNumber = ['scalar', 'variable', 'digits'].includes(field.shape.sort);
    const isThere = node.get(field.index) !== undefined;
    if (field.role.sort === 'derived' && isNumber && isThere && space.file === 0 && !space.within)
      found.push({
        path: `${node.path}.${field.name}`,
        at: absolute(space, node.offset + node.fieldStart(field.index)),
        length: node.fieldLength(field.index),
      });
    derivedFields(node.get(field.index), found);
  }
}

/**
 * Whether it opens, proves itself, and leaves no more bytes unexplained than before. A count or size that nothing else in
 * the file speaks of describes another archive when it is changed, one with bytes that nothing explains.
 */
function isTakenForGood(script: Script, bytes: Uint8Array, options: OpenOptions, explained: number): boolean {
  try {
    const archive = openArchive(script, memorySource(bytes, 'sample'), options);
    return archive.coverage.explained >= explained && proveArchive(archive, options).holds;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return false;
  }
}

function made(command: string, args: string[], file: string): Uint8Array {
  for (const [name, text] of [
    ['one.txt', 'one '.repeat(40)],
    ['two.txt', 'two'],
  ] as const)
    fs.writeFileSync(path.join(folder, name), text);
  execFileSync(command, args, { cwd: folder });
  return new Uint8Array(fs.readFileSync(path.join(folder, file)));
}

const shipped = (name: string): Script => readScriptFile(`scripts/formats/${name}.yaml`);

const subjects: [string, () => [Script, Uint8Array]][] = [
  ...Object.keys(SAMPLES).map((name): [string, () => [Script, Uint8Array]] => [
    name,
    () => [referenceScripts.get(name)!, SAMPLES[name]!().bytes],
  ]),
  ['tar', () => [shipped('tar'), made('tar', ['-cf', 'a.tar', 'one.txt', 'two.txt'], 'a.tar')]],
  ['zip', () => [shipped('zip'), made('zip', ['-q', 'a.zip', 'one.txt', 'two.txt'], 'a.zip')]],
  ['ar', () => [shipped('ar'), made('ar', ['rc', 'a.ar', 'one.txt', 'two.txt'], 'a.ar')]],
  ['gzip', () => [shipped('gzip'), made('gzip', ['-k', '-f', 'one.txt'], 'one.txt.gz')]],
  ['hold', () => [holdScript, holdBytes(entriesOf({ 'a.txt': 'some text '.repeat(50), b: 'b' }))]],
];

/** Where a border between two things lies is said once only in these, and another border gives another good archive. */
const SAID_ONCE: Record<string, readonly string[]> = {
  // Sizes follow from the next place; the pool ends in padding.
  pool: ['head.poolSize', 'head.rows[1].unit', 'head.rows[2].unit'],
  // The byte that fills a member of odd length may as well belong to it.
  ar: ['members[0].size', 'members[1].size'],
  // What is packed ends by itself; a byte of the padding behind it may be counted in.
  hold: ['roll.storedSize'],
};

test.each(subjects)('%s: every byte of every derived field', (name, make) => {
  const [script, bytes] = make();
  const keys = new Map(Object.values(SAMPLES).flatMap((sample) => Object.entries(sample().keys ?? {})));
  const options: OpenOptions = { ...bare, keys, companion: companionsIn(SAMPLES.volumes!().beside) };
  const archive = openArchive(script, memorySource(bytes, 'sample'), options);
  expect(proveArchive(archive, options)).toMatchObject({ holds: true });
  const fields = script.parts.flatMap(({ name }) => derivedFields(archive.context.part(name)));
  const believed: string[] = [];
  for (const { path: field, at, length } of fields) {
    if (SAID_ONCE[name]?.includes(field)) continue;
    for (let i = 0; i < length; i++) {
      const changed = bytes.slice();
      changed[at + i]! ^= 1 << (i % 8);
      if (isTakenForGood(script, changed, options, archive.coverage.explained))
        believed.push(`${field}, byte ${at + i}`);
    }
  }
  expect(believed).toEqual([]);
});
