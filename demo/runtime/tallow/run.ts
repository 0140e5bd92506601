import fs from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { toPng } from '../lanternfen/sheet';
import { play, type Run } from './game';

const escape = (text: string): string => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

const fileOf = (part: string): string => `${part.replace(/ /g, '_')}.png`;

/** The quay as a page of its own, made only of what was loaded. */
function page({ quay, log }: Run): string {
  const style = `body{margin:0;background:#1a140f;color:#efe4d0;font:15px/1.5 serif;padding:1em}h1{font-size:22px;margin:.2em 0}figure{margin:0;max-width:150px;font-size:12px}img{display:block;height:72px}.row{display:flex;gap:12px;flex-wrap:wrap;margin:.8em 0}.line{border-left:4px solid #b5532a;padding:.5em 1em;background:#2a2018}audio{height:32px}.stall{padding:3em;color:#ee8a72;font-size:20px}`;
  const head = `<!doctype html><meta charset="utf-8"><title>Tallow &amp; Tide</title><style>${style}</style>`;
  if (!quay) {
    const stall = log.findLast((line) => line.sort === 'stall')!;
    return `${head}<div class="stall">The game stalls at ${escape(stall.what)}<br>${escape(stall.detail)}</div>`;
  }
  const figures = [...quay.pictures.keys()].map(
    (part) => `<figure><img src="${fileOf(part)}" alt="${escape(part)}">${escape(part)}</figure>`,
  );
  return `${head}<h1>The quay at the jetty</h1><div class="line">${escape(quay.line)}</div><audio controls src="call.wav"></audio><div class="row">${figures.join('')}</div>`;
}

const { values } = parseArgs({ options: { folder: { type: 'string' }, out: { type: 'string' } } });
if (!values.folder || !values.out) {
  process.stderr.write('usage: run --folder GAME --out PLACE\n');
  process.exit(2);
}
const run = play(values.folder);
const put = (name: string, data: Buffer | string): void =>
  fs.writeFileSync(path.join(values.out!, name), data);
fs.mkdirSync(values.out, { recursive: true });
if (run.quay) {
  for (const [part, picture] of run.quay.pictures) put(fileOf(part), await toPng(picture));
  put('call.wav', run.quay.call);
}
put('scene.html', page(run));
put('log.json', JSON.stringify({ loaded: run.loaded, line: run.quay?.line ?? null, log: run.log }, null, 1));
process.stdout.write(`${run.loaded ? 'loaded' : 'stalled'}\n`);
