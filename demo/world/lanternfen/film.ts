import sharp from 'sharp';
import { lettering } from '../drawing/lettering';
import { ferry, LIGHTS, marsh, reeds } from '../drawing/marsh';
import { mumble } from '../sounds';
import { ivfPieces, oggPieces, writeSpool } from '../spool-writer';
import { film, opus } from '../tools';
import { GAME_KEY } from './program';

const RATE = 12;
const FRAMES = 48;

const picture = (frame: number): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="320" height="160" viewBox="0 0 512 256">${marsh('opening', 512, 256, 'dusk')}${ferry(60 + frame * 7, 190 + 3 * Math.sin(frame / 4), 1)}${reeds('opening reeds', 30 - frame, 260, 130, 120, LIGHTS.dusk.reed)}${frame > 30 ? lettering('Lanternfen', 256, 74, 60, '#f6d08a') : ''}</svg>`;

const NARRATION: Record<string, string> = {
  en: 'Every night the keeper rows out, and every night one lantern more comes back.',
  de: 'Jede Nacht rudert der Wärter hinaus, und jede Nacht kehrt ein Licht mehr zurück.',
};

const MARKS = [
  [0, 'fade in'],
  [1500, 'bell'],
  [2600, 'title'],
] as const;

/** The opening film: the ferry crosses, narrated in two tongues. */
export async function openingSpool(): Promise<Buffer> {
  const frames: Buffer[] = [];
  for (let i = 0; i < FRAMES; i++)
    frames.push(
      await sharp(Buffer.from(picture(i)))
        .png({ compressionLevel: 1 })
        .toBuffer(),
    );
  return writeSpool(
    [
      { kind: 'picture', tongue: '', pieces: ivfPieces(film(frames, RATE), RATE) },
      ...Object.entries(NARRATION).map(([tongue, text], i) => ({
        kind: 'sound' as const,
        tongue,
        pieces: oggPieces(opus(mumble(text, 120 + 60 * i))),
      })),
      {
        kind: 'marks' as const,
        tongue: '',
        pieces: MARKS.map(([time, what]) => ({ time, data: Buffer.from(`${time}\t${what}\n`) })),
      },
    ],
    GAME_KEY,
  );
}
