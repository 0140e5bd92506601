import { toHex } from '@/core/bytes';
import { findKeys, makeKeyProbe } from '@/core/keys';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { readScriptFile, readShelf, scriptFor } from '@/platform/node/script-shelf';
import type { Output } from './commands';
import { requireFile } from './open';

/** Looks for the key of a locked archive in a program; prints it, since that is what was asked for. */
export function findKey(
  program: string,
  archive: string,
  given: { script?: string; all?: boolean; json?: boolean },
  output: Output,
): number {
  for (const file of [program, archive]) requireFile(file);
  const source = openFileSource(archive);
  const companions = companionsOf(archive);
  const bytes = openFileSource(program);
  try {
    const script = given.script ? readScriptFile(given.script) : scriptFor(source, readShelf()).script;
    const probe = makeKeyProbe(script, source, { primitives: nodePrimitives, companion: companions.find });
    const { found, tested } = findKeys(bytes, probe, { all: given.all ?? false });
    for (const { key, offset, spelling, entries } of found)
      output.out(
        given.json
          ? JSON.stringify({ key: toHex(key), offset, spelling, entries })
          : `${toHex(key)}  ${spelling} at byte ${offset}, opens ${entries} entries`,
      );
    if (found.length > 0) return 0;
    output.complain(
      `No key in ${program}: ${tested} candidates were held against ${probe.where} of ${archive}, and none opens it.`,
    );
    return 1;
  } finally {
    for (const one of [bytes, companions, source]) one.close();
  }
}
