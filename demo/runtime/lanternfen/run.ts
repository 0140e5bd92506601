import { escape, fileOf, pageHead, runProgram, stallNote } from '../common/show';
import { play, type EngineVersion, type Run, type Scene } from './game';

const STYLE = `body{margin:0;background:#0d181b;color:#ebe6da;font:16px/1.5 sans-serif}figure{position:relative;margin:0;max-width:960px}img{display:block}.back{width:100%}.figure{position:absolute;left:4%;bottom:0;height:62%}.title{position:absolute;right:3%;top:4%;width:24%;border:2px solid #c58f35}.line{position:absolute;left:34%;bottom:8%;right:4%;background:#0d181bd9;padding:.7em 1em;border-left:4px solid #dba94d}footer{padding:.6em;display:flex;gap:1em;flex-wrap:wrap;align-items:center}audio{height:32px}.more{display:flex;gap:12px;padding:.6em;flex-wrap:wrap}.more figure{max-width:150px;font-size:13px}.more img{height:96px;background:repeating-conic-gradient(#1b2c31 0 25%,#243a40 0 50%) 0 0/16px 16px}.film{padding:.6em}.film video{max-width:100%;width:480px;display:block;background:#000}.menu{position:absolute;left:3%;top:4%;margin:0;padding:.5em .8em;list-style:none;background:#0d181bd9}.menu li[aria-current]{color:#dba94d;font-weight:700}.talk{color:#c8d3c5}.stall{padding:3em;color:#ee8a72;font-size:20px}`;

function page({ scene, log }: Run): string {
  const head = pageHead('Lanternfen', STYLE);
  if (!scene) return head + stallNote(log);
  const more = Object.keys(scene.more).map(
    (part) => `<figure><img src="${fileOf(part)}" alt="${escape(part)}">${escape(part)}</figure>`,
  );
  return `${head}<figure><img class="back" src="backdrop.png" alt="${escape(scene.name)}"><img class="figure" src="figure.png" alt="the figure"><img class="title" src="title.png" alt="the title"><figcaption class="line">${escape(scene.line)}${scene.talk ? `<br><span class="talk">${escape(scene.talk)}</span>` : ''}</figcaption>${menu(scene)}</figure><footer>voice <audio controls autoplay src="voice.wav"></audio> water <audio controls loop src="water.wav"></audio>${scene.song ? ` song <audio controls src="song.${scene.song.ending}"></audio>` : ''}</footer>${scene.films.map(filmPart).join('')}${more.length > 0 ? `<div class="more">${more.join('')}</div>` : ''}`;
}

/** The languages that the player may choose. */
const menu = ({ tongues, tongue }: Scene): string =>
  tongues.length > 0
    ? `<ul class="menu" aria-label="Languages">${tongues.map(({ code, name }) => `<li lang="${escape(code)}"${code === tongue ? ' aria-current="true"' : ''}>${escape(name)}</li>`).join('')}</ul>`
    : '';

const stamp = (ms: number): string => new Date(ms).toISOString().slice(11, 23);

/** Texts below a film in WebVTT, as an address of their own. */
const subtitles = ({ written }: Scene['films'][number]): string =>
  `WEBVTT\n\n${written.map(({ from, to, text }) => `${stamp(from)} --> ${stamp(to)}\n${text}\n`).join('\n')}`;

function filmPart(film: Scene['films'][number], i: number): string {
  const track =
    film.written.length > 0 ? `<track default srclang="${film.tongue || 'en'}" src="film_${i + 1}.vtt">` : '';
  return `<figure class="film"><video controls crossorigin="anonymous" src="film_${i + 1}.webm" aria-label="${escape(film.name)}">${track}</video><figcaption>${escape(film.name)}: ${film.pictures} pictures, ${film.seconds.toFixed(1)} s, sound ${film.tongue || 'none'} of ${film.tongues.join(', ') || 'none'}</figcaption></figure>`;
}

/** Which engine it stands for is said by the name under which it is started. */
const version: EngineVersion = process.argv[1]?.endsWith('run-frost.ts') ? 4 : 3;

await runProgram((folder, tongue) => {
  const run = play(folder, version, tongue);
  const { loaded, log, scene } = run;
  const { backdrop, figure, title } = scene ?? {};
  return {
    ...{ loaded, log, line: scene?.line ?? null, page: page(run) },
    ...{ tongues: scene?.tongues ?? [], tongue: scene?.tongue ?? '' },
    pictures: new Map(Object.entries({ ...(scene && { backdrop, figure, title }), ...scene?.more })),
    files: new Map(
      scene
        ? Object.entries({
            'voice.wav': scene.voice,
            'water.wav': scene.water,
            ...Object.fromEntries(
              scene.films.flatMap((film, i) => [
                [`film_${i + 1}.webm`, film.film],
                ...(film.written.length > 0 ? [[`film_${i + 1}.vtt`, Buffer.from(subtitles(film))]] : []),
              ]),
            ),
            ...(scene.song && { [`song.${scene.song.ending}`]: scene.song.data }),
          })
        : [],
    ),
  };
});
