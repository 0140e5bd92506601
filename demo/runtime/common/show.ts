import fs from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import type { LogLine } from './log';
import { toPng, type Picture } from './picture';

export const escape = (text: string): string => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** The file that a picture of a scene is kept in. */
export const fileOf = (part: string): string => `${part.replace(/ /g, '_')}.png`;

/** The beginning of a page. */
export const pageHead = (title: string, style: string): string =>
  `<!doctype html><meta charset="utf-8"><title>${escape(title)}</title><style>${style}</style>`;

/** What a page says where the game went no further. */
export function stallNote(log: readonly LogLine[]): string {
  const stall = log.findLast((line) => line.sort === 'stall')!;
  return `<div class="stall">The game stalls at ${escape(stall.what)}<br>${escape(stall.detail)}</div>`;
}

/** What a run of a game leaves in a folder. */
export interface Shown {
  readonly loaded: boolean;
  readonly log: readonly LogLine[];
  readonly line: string | null;
  /** Languages that its menu offers, and the one that it was in. */
  readonly tongues?: readonly { readonly code: string; readonly name: string }[];
  readonly tongue?: string;
  /** The scene as a page of its own, made only of what was loaded. */
  readonly page: string;
  readonly pictures: ReadonlyMap<string, Picture>;
  /** Sounds, films and pictures as they came, by the names of their files. */
  readonly files: ReadonlyMap<string, Buffer>;
}

/** Runs a game as a program: `--folder` is what it loads, `--out` where its scene and log go, `--tongue` the language that is chosen in its menu. */
export async function runProgram(run: (folder: string, tongue: string | undefined) => Shown): Promise<void> {
  const type = 'string' as const;
  const { values } = parseArgs({ options: { folder: { type }, out: { type }, tongue: { type } } });
  const { folder, out, tongue } = values;
  if (!folder || !out) {
    process.stderr.write('usage: run --folder GAME --out PLACE\n');
    process.exit(2);
  }
  const { loaded, log, line, page, pictures, files, tongues = [], tongue: spoken = '' } = run(folder, tongue);
  const put = (name: string, data: Buffer | string): void => fs.writeFileSync(path.join(out, name), data);
  fs.mkdirSync(out, { recursive: true });
  for (const [part, picture] of pictures) put(fileOf(part), await toPng(picture));
  for (const [name, bytes] of files) put(name, bytes);
  put('scene.html', page);
  put('log.json', JSON.stringify({ loaded, line, log, tongues, tongue: spoken }, null, 1));
  process.stdout.write(`${loaded ? 'loaded' : 'stalled'}\n`);
}
