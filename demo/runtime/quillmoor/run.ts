import { escape, pageHead, runProgram, stallNote } from '../common/show';
import { faceOf, play, type Moor, type Run } from './game';

const STYLE = `body{margin:0;background:#15191a;color:#e6e2d3;font:15px/1.5 serif;padding:1em;display:grid;grid-template-columns:minmax(0,3fr) minmax(0,2fr);gap:1em}h1{font-size:22px;margin:0}svg{width:100%;max-height:70vh;background:#0e1213}ol{padding-left:1.4em;margin:.6em 0}.kept{border-left:4px solid #b98b3e;padding:.3em .8em;margin:.3em 0;background:#22282a}img{height:96px}.stall{padding:3em;color:#ee8a72;font-size:20px}`;

const [WIDE, HIGH] = [84, 97];
const fileOf = (plate: string): string => `${plate.replace(/[^a-z0-9_]+/gi, '_')}.png`;

/** Where a spot of the ground is drawn: rows of hexagons, odd ones half a spot to the right. */
const spot = (q: number, r: number): readonly [number, number] => [
  q * WIDE + (r & 1 ? WIDE / 2 : 0),
  r * HIGH * 0.75,
];

function groundPart({ ground, stirs, place }: Moor): string {
  const shape = `<clipPath id="hex"><path d="M${WIDE / 2} 0L${WIDE} ${HIGH / 4}V${(HIGH * 3) / 4}L${WIDE / 2} ${HIGH}L0 ${(HIGH * 3) / 4}V${HIGH / 4}Z"/></clipPath>`;
  const tiles = ground.flatMap((across, r) =>
    across.map((looks, q) => {
      const [x, y] = spot(q, r);
      return `<g transform="translate(${x} ${y})"><image href="${fileOf(looks)}" width="${WIDE}" height="${HIGH}" clip-path="url(#hex)"/></g>`;
    }),
  );
  const things = stirs.map(({ q, r, name }) => {
    const [x, y] = spot(q, r);
    return `<g transform="translate(${x + WIDE / 2} ${y + HIGH / 2})"><circle r="20" fill="#b98b3e"/><text y="42" text-anchor="middle" font-size="20" fill="#fff">${escape(name)}</text></g>`;
  });
  const [right, bottom] = spot((ground[0]?.length ?? 0) + 2, ground.length);
  return `<svg viewBox="0 0 ${right} ${bottom + HIGH}" role="img" aria-label="${escape(String(place.name))}"><defs>${shape}</defs>${tiles.join('')}${things.join('')}</svg>`;
}

function page({ moor, log }: Run): string {
  const head = pageHead('Quillmoor', STYLE);
  if (!moor) return head + stallNote(log);
  const faces = moor.people
    .filter(({ plate }) => plate !== '')
    .map((one) => `<img src="${fileOf(faceOf(one))}" alt="${escape(String(one.name))}">`);
  const kept = moor.kept.map(({ what }) => `<p class="kept">Kept: ${escape(String(what))}</p>`);
  return `${head}<main>${groundPart(moor)}</main><aside><h1>${escape(String(moor.place.name))}, ${escape(String(moor.sky.name))}</h1>${faces.join('')}<ol>${moor.said.map((line) => `<li>${escape(line)}</li>`).join('')}</ol>${kept.join('')}<audio controls src="bell.wav"></audio></aside>`;
}

await runProgram((folder) => {
  const run = play(folder);
  const { loaded, log, moor } = run;
  const plates = [...(moor?.plates ?? [])].map(([name, { png }]) => [fileOf(name), png] as const);
  return {
    ...{ loaded, log, line: moor?.said.at(-1) ?? null, page: page(run) },
    pictures: new Map(),
    files: new Map(moor ? [['bell.wav', moor.bell], ...plates] : []),
  };
});
