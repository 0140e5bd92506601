import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { typeOfHead, type Kind, type KindRules } from '@/core/kinds';
import type { ByteSource } from '@/core/bytes';
import { decodeAnyText } from '@/media/text/core/encoding';
import type { Script } from '@/core/script';
import { mediaScriptsOn, type MediaScripts } from '@/platform/node/media-scripts';
import {
  kindRulesOf,
  readShelf,
  scriptsFor,
  shippedScriptsFolder,
  type ShelvedScript,
} from '@/platform/node/script-shelf';
import {
  isOwn,
  ownShelf,
  ownStamp,
  removeScript,
  saveScript,
  textOf,
  versionsOf,
  type ScriptVersion,
} from './own-scripts';
import { notFound } from '@/platform/user-error';

/** How long what is on the shelf is taken for known; another process may have saved a script. */
const FRESH_MS = 1000;

let shipped: readonly ShelvedScript[] | undefined;
let own: { stamp: string; scripts: readonly ShelvedScript[]; lookedAt: number } | undefined;

/** All format scripts; those that were written here come before those that ship. */
export function scriptShelf(): readonly ShelvedScript[] {
  shipped ??= readShelf();
  const now = Date.now();
  if (!own || now - own.lookedAt > FRESH_MS) {
    const stamp = ownStamp();
    own = { stamp, scripts: own?.stamp === stamp ? own.scripts : ownShelf(), lookedAt: now };
  }
  return [...own.scripts, ...shipped];
}

/** Looks at once, for what was saved a moment ago. */
export function refreshShelf(): void {
  own = undefined;
}

export const scriptById = (id: string): Script | undefined =>
  scriptShelf().find((one) => one.id === id)?.script;

const digests = new WeakMap<Script, string>();

/** Changes with what a script says; empty where there is none by that name. */
export function scriptDigest(id: string | null): string {
  const script = id === null ? undefined : scriptById(id);
  if (!script) return '';
  let digest = digests.get(script);
  if (digest === undefined)
    digests.set(script, (digest = createHash('sha1').update(script.text).digest('hex').slice(0, 12)));
  return digest;
}

/** The script for an archive by its content; scripts of single pictures, sounds and models are for entries. */
export const archiveScriptFor = (source: ByteSource): ShelvedScript | undefined =>
  scriptsFor(source, scriptShelf()).find(({ script }) => !script.isForFiles);

/** What the scripts on the shelf say of kinds. */
export const kindRules = (): KindRules => kindRulesOf(scriptShelf());

/** Bytes that are looked at to tell whether a file is under a mask. */
const MASK_LOOK_BYTES = 512;

/**
 * The script for a file of the folder that is nothing by itself, but may be a picture or sound under a key: one that is for files, has keys, and
 * knows the file, which is no text and begins like nothing that is known.
 */
export function maskedScriptFor(source: ByteSource): ShelvedScript | undefined {
  const found = scriptsFor(source, scriptShelf()).find(
    ({ script }) => script.isForFiles && script.keys.size > 0,
  );
  if (!found) return undefined;
  const head = source.read(0, Math.min(MASK_LOOK_BYTES, source.length)).slice();
  return typeOfHead(head) || decodeAnyText(head) ? undefined : found;
}

/** The script with a section for a medium that knows the bytes. */
export const mediaScriptFor: MediaScripts = (source, section) =>
  mediaScriptsOn(scriptShelf())(source, section);

/** Endings of the files that scripts with such a section are for. */
export const mediaScriptEndings = (section: 'lines'): ReadonlySet<string> =>
  new Set(
    scriptShelf().flatMap(({ script }) =>
      script[section] ? script.endings.map((one) => one.toLowerCase()) : [],
    ),
  );

/** Changes with the scripts that were written here for entries of a kind, or with such a section. */
export const scriptsStamp = (section: Kind | 'lines'): string =>
  scriptShelf()
    .filter(({ id, script }) => isOwn(id) && (script as Partial<Record<Kind | 'lines', unknown>>)[section])
    .map(({ id }) => `${id} ${versionsOf(id)[0]?.version ?? 0}`)
    .join();

/** The script that says what a file of its format tells in lists. */
export const tellingScriptFor = (source: ByteSource): ShelvedScript | undefined =>
  scriptsFor(source, scriptShelf()).find(({ script }) => script.tells.length > 0);

export interface ScriptView {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  readonly author: string;
  readonly triedOn: readonly string[];
  readonly isOwn: boolean;
  readonly version: number | undefined;
  readonly savedAt: string | undefined;
}

export interface ScriptDetail extends ScriptView {
  readonly text: string;
  readonly shownVersion: number | undefined;
  readonly versions: readonly ScriptVersion[];
}

function viewOf({ id, script }: ShelvedScript): ScriptView {
  const newest = isOwn(id) ? versionsOf(id)[0] : undefined;
  const { title, about, author, triedOn } = script;
  return {
    id,
    title,
    about,
    author,
    triedOn,
    isOwn: isOwn(id),
    version: newest?.version,
    savedAt: newest?.savedAt,
  };
}

export const listScripts = (): ScriptView[] => scriptShelf().map(viewOf);

/** A script with its text, of an older version where one is asked for. */
export function scriptDetail(id: string, version?: number): ScriptDetail {
  const shelved = scriptShelf().find((one) => one.id === id);
  if (!shelved) throw notFound('The script');
  const view = viewOf(shelved);
  if (view.version === undefined) {
    const text = fs.readFileSync(path.join(shippedScriptsFolder(), `${id}.yaml`), 'utf8');
    return { ...view, text, shownVersion: undefined, versions: [] };
  }
  const shownVersion = version ?? view.version;
  return { ...view, text: textOf(id, shownVersion), shownVersion, versions: versionsOf(id) };
}

export function keepScript(text: string, id?: string): { id: string; version: number } {
  const saved = saveScript(text, id);
  refreshShelf();
  return saved;
}

export function dropScript(id: string): void {
  removeScript(id);
  refreshShelf();
}
