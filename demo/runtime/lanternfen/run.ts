import fs from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { play, type Run } from './game';
import { toPng } from './sheet';

const escape = (text: string): string => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

const fileOf = (part: string): string => `${part.replace(/ /g, '_')}.png`;

/** The scene as a page of its own, made only of what was loaded. */
function page({ scene, log }: Run): string {
  const style = `body{margin:0;background:#0d181b;color:#ebe6da;font:16px/1.5 sans-serif}figure{position:relative;margin:0;max-width:960px}img{display:block}.back{width:100%}.figure{position:absolute;left:4%;bottom:0;height:62%}.title{position:absolute;right:3%;top:4%;width:24%;border:2px solid #c58f35}.line{position:absolute;left:34%;bottom:8%;right:4%;background:#0d181bd9;padding:.7em 1em;border-left:4px solid #dba94d}footer{padding:.6em;display:flex;gap:1em;flex-wrap:wrap;align-items:center}audio{height:32px}.more{display:flex;gap:12px;padding:.6em;flex-wrap:wrap}.more figure{max-width:150px;font-size:13px}.more img{height:96px;background:repeating-conic-gradient(#1b2c31 0 25%,#243a40 0 50%) 0 0/16px 16px}.stall{padding:3em;color:#ee8a72;font-size:20px}`;
  const head = `<!doctype html><meta charset="utf-8"><title>Lanternfen</title><style>${style}</style>`;
  if (!scene) {
    const stall = log.findLast((line) => line.sort === 'stall')!;
    return `${head}<div class="stall">The game stalls at ${escape(stall.what)}<br>${escape(stall.detail)}</div>`;
  }
  const more = Object.keys(scene.more).map(
    (part) => `<figure><img src="${fileOf(part)}" alt="${escape(part)}">${escape(part)}</figure>`,
  );
  return `${head}<figure><img class="back" src="backdrop.png" alt="${escape(scene.name)}"><img class="figure" src="figure.png" alt="the figure"><img class="title" src="title.png" alt="the title"><figcaption class="line">${escape(scene.line)}</figcaption></figure><footer>voice <audio controls autoplay src="voice.wav"></audio> water <audio controls loop src="water.wav"></audio></footer>${more.length > 0 ? `<div class="more">${more.join('')}</div>` : ''}`;
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
if (run.scene) {
  put('backdrop.png', await toPng(run.scene.backdrop));
  put('figure.png', await toPng(run.scene.figure));
  put('title.png', await toPng(run.scene.title));
  for (const [part, picture] of Object.entries(run.scene.more)) put(fileOf(part), await toPng(picture));
  put('voice.wav', run.scene.voice);
  put('water.wav', run.scene.water);
}
put('scene.html', page(run));
put('log.json', JSON.stringify({ loaded: run.loaded, line: run.scene?.line ?? null, log: run.log }, null, 1));
process.stdout.write(`${run.loaded ? 'loaded' : 'stalled'}\n`);
