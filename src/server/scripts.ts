import type { ByteSource } from '@/core/bytes';
import type { Script } from '@/core/script';
import { readShelf, scriptsFor, type ShelvedScript } from '@/platform/node/script-shelf';

let shelf: readonly ShelvedScript[] | undefined;

/** All format scripts, read once. */
export function scriptShelf(): readonly ShelvedScript[] {
  shelf ??= readShelf();
  return shelf;
}

export const scriptById = (id: string): Script | undefined =>
  scriptShelf().find((one) => one.id === id)?.script;

/** The script for an archive by its content; scripts of single pictures, sounds and models are for entries. */
export const archiveScriptFor = (source: ByteSource): ShelvedScript | undefined =>
  scriptsFor(source, scriptShelf()).find(({ script }) => !script.isForFiles);

export const pictureScriptFor = (source: ByteSource): ShelvedScript | undefined =>
  scriptsFor(source, scriptShelf()).find(({ script }) => script.picture);
