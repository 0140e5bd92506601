import { escape, fileOf, pageHead, runProgram, stallNote } from '../common/show';
import { play, type Run } from './game';

const STYLE = `body{margin:0;background:#1a140f;color:#efe4d0;font:15px/1.5 serif;padding:1em}h1{font-size:22px;margin:.2em 0}figure{margin:0;max-width:150px;font-size:12px}img{display:block;height:72px}.row{display:flex;gap:12px;flex-wrap:wrap;margin:.8em 0}.line{border-left:4px solid #b5532a;padding:.5em 1em;background:#2a2018}audio{height:32px}.stall{padding:3em;color:#ee8a72;font-size:20px}`;

function page({ quay, log }: Run): string {
  const head = pageHead('Tallow & Tide', STYLE);
  if (!quay) return head + stallNote(log);
  const figures = [...quay.pictures.keys()].map(
    (part) => `<figure><img src="${fileOf(part)}" alt="${escape(part)}">${escape(part)}</figure>`,
  );
  return `${head}<h1>The quay at the jetty</h1><div class="line">${escape(quay.line)}</div><audio controls src="call.wav"></audio><div class="row">${figures.join('')}</div>`;
}

await runProgram((folder) => {
  const run = play(folder);
  const { loaded, log, quay } = run;
  return {
    ...{ loaded, log, line: quay?.line ?? null, page: page(run) },
    pictures: quay?.pictures ?? new Map(),
    files: new Map(quay ? [['call.wav', quay.call]] : []),
  };
});
