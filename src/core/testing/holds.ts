import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { openArchive, type Archive, type OpenOptions } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import { emit, type BuildPlan } from '@/core/mod';
import { parseScript, type Script } from '@/core/script';
import { nodePrimitives } from '@/platform/node/primitives';
import { writeHold, type HoldEntry, type HoldOptions } from '../../../demo/world/hold-writer';

/** For tests only: holds written by the demo's own writer, which shares nothing with the core. */
export const holdScript: Script = parseScript(
  fs.readFileSync('scripts/formats/hold-peatfire-3.yaml', 'utf8'),
);

export const key = createHash('sha256').update('a key for tests').digest();
export const keys = new Map([['game', new Uint8Array(key)]]);
export const options: OpenOptions = { primitives: nodePrimitives, keys };

export const entriesOf = (files: Record<string, string | Buffer>): HoldEntry[] =>
  Object.entries(files).map(([name, data]) => ({ path: name, data: () => Buffer.from(data as string) }));

/** The bytes of a hold with these entries. */
export function holdBytes(entries: readonly HoldEntry[], settings: Partial<HoldOptions> = {}): Uint8Array {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-test-'));
  try {
    const file = path.join(folder, 'test.hold');
    writeHold(file, entries, {
      roll: true,
      rank: 1,
      salt: createHash('md5').update('salt').digest(),
      rowsPerPage: 4,
      ...settings,
    });
    return new Uint8Array(fs.readFileSync(file));
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}

export const openBytes = (
  bytes: Uint8Array,
  name = 'test.hold',
  script = holdScript,
  given = options,
): Archive => openArchive(script, memorySource(bytes, name), given);

export function emitted(plan: BuildPlan): Uint8Array {
  const parts: Uint8Array[] = [];
  emit(plan.files[0]!, { write: (bytes) => void parts.push(bytes.slice()) });
  plan.discard();
  return new Uint8Array(Buffer.concat(parts));
}

/** The FormatError that `work` ends in; anything else, or nothing, fails the test. */
export function failure(work: () => unknown): FormatError {
  try {
    work();
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
  throw new Error('nothing was wrong');
}
