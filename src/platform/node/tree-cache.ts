import fs from 'node:fs';
import path from 'node:path';
import type { TreeCache, YamlTree } from '@/core/script';

/** Longer texts are read anew each time: they are rare, and what is kept stays small. */
const MOST_CHARACTERS = 200_000;

interface Kept {
  readonly text: string;
  readonly tree: YamlTree;
}

/** FNV-1a of 32 bits (Fowler, Noll, Vo): enough for a name, and nothing has to be loaded for it. */
function digestOf(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}

/** Keeps what format scripts say in a folder of the application's own, a file each. A folder that cannot be written keeps nothing. */
export function treesIn(folder: string): TreeCache {
  const fileOf = (text: string): string => path.join(folder, `${text.length}-${digestOf(text)}.json`);
  return {
    get(text) {
      if (text.length > MOST_CHARACTERS) return undefined;
      try {
        const kept = JSON.parse(fs.readFileSync(fileOf(text), 'utf8')) as Kept;
        // Two texts may share a name; they never share a tree.
        return kept.text === text ? kept.tree : undefined;
      } catch {
        return undefined;
      }
    },
    set(text, tree) {
      if (text.length > MOST_CHARACTERS) return;
      const file = fileOf(text);
      const temporary = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}`;
      try {
        fs.writeFileSync(temporary, JSON.stringify({ text, tree } satisfies Kept));
        fs.renameSync(temporary, file);
      } catch {
        fs.rmSync(temporary, { force: true });
      }
    },
  };
}
