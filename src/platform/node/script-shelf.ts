import fs from 'node:fs';
import path from 'node:path';
import { FormatError, withFacts, type ByteSource } from '@/core/bytes';
import { recognises } from '@/core/archive';
import { NOTHING_SAID, type KindRules, type ScriptKind } from '@/core/kinds';
import { applicationHome } from './home';
import { parseScript, recognitionIn, type Recognition, type Script } from '@/core/script';

/** A format script together with the name of its file, which is its id. */
export interface ShelvedScript {
  readonly id: string;
  /** Read when it is asked for; throws FormatError where it is wrong. */
  readonly script: Script;
  /** What it recognises, where that can be told without reading all of it. */
  readonly recognition?: Recognition;
}

/** Where the scripts that ship with the application lie. */
export const shippedScriptsFolder = (): string => path.join(applicationHome(), 'scripts', 'formats');

/** Reads a script from a file; errors name the file, line and column. */
export function readScriptFile(file: string): Script {
  const text = fs.readFileSync(file, 'utf8');
  return withFacts({ file: path.basename(file) }, () => parseScript(text));
}

/** All scripts of a folder, by the name of their file. */
export function readShelf(folder = shippedScriptsFolder()): ShelvedScript[] {
  return fs
    .readdirSync(folder)
    .filter((name) => name.endsWith('.yaml'))
    .sort()
    .map((name) => shelved(name.slice(0, -'.yaml'.length), path.join(folder, name)));
}

function shelved(id: string, file: string): ShelvedScript {
  const recognition = recognitionIn(fs.readFileSync(file, 'utf8'));
  let script: Script | undefined;
  return {
    id,
    ...(recognition && { recognition }),
    get script() {
      return (script ??= readScriptFile(file));
    },
  };
}

/** What scripts say of kinds; of those that are wrong nothing. */
export function kindRulesOf(shelf: readonly ShelvedScript[]): KindRules {
  const scripts = shelf.flatMap((one): ScriptKind[] => {
    const { marks, endings, kind, isKindStated } = one.recognition ?? one.script;
    return kind ? [{ kind, marks, endings, isStated: isKindStated }] : [];
  });
  return { said: NOTHING_SAID, scripts };
}

/** The scripts that know the file by its marks. */
export function scriptsFor(source: ByteSource, shelf: readonly ShelvedScript[]): ShelvedScript[] {
  return shelf.filter((one) => recognises(one.recognition ?? one.script, source));
}

/** The one script to open a file with, or a FormatError that says what was tried. */
export function scriptFor(source: ByteSource, shelf: readonly ShelvedScript[]): ShelvedScript {
  const [first] = scriptsFor(source, shelf);
  if (first) return first;
  throw new FormatError('not-recognised', {
    file: source.name,
    byteOffset: 0,
    expected: `the mark of one of ${shelf.length} scripts`,
    remedy: 'Give a format script that describes this file',
  });
}
