import { findKeys, makeKeyProbe, type KeySearch, type KeySearchOptions } from '@/core/keys';
import { parseScript } from '@/core/script';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { besides } from './open-file';

/** What a search needs to know, in a form that can be sent to a thread. */
export interface KeySearchRequest {
  /** Text of the archive's format script. */
  readonly script: string;
  readonly archive: { readonly file: string; readonly name: string };
  readonly program: { readonly file: string; readonly name: string };
}

/** A search with what it was held against. */
export interface KeySearchResult extends KeySearch {
  /** The field that a wrong key fails. */
  readonly where: string;
}

/** Looks through a program for keys of an archive. Throws FormatError where the archive cannot be used for that. */
export function searchKeys(request: KeySearchRequest, options: KeySearchOptions): KeySearchResult {
  const { archive, program } = request;
  const source = openFileSource(archive.file, archive.name);
  const companions = companionsOf(archive.file, { nameOf: besides(archive.name) });
  try {
    const probe = makeKeyProbe(parseScript(request.script), source, {
      primitives: nodePrimitives,
      companion: companions.find,
    });
    const bytes = openFileSource(program.file, program.name);
    try {
      return { ...findKeys(bytes, probe, options), where: probe.where };
    } finally {
      bytes.close();
    }
  } finally {
    companions.close();
    source.close();
  }
}
