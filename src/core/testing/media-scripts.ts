import fs from 'node:fs';
import { parseScript, type Script } from '../script';

/** The scripts of docs/media-scripts.md by their names. */
export const mediaScripts: ReadonlyMap<string, Script> = new Map(
  [
    ...fs.readFileSync('docs/media-scripts.md', 'utf8').matchAll(/```yaml\n# example: (\w+)\n([\s\S]*?)```/g),
  ].map(([, name, text]) => [name!, parseScript(text!)]),
);
