import { person } from '../drawing/figures';
import { lettering } from '../drawing/lettering';
import { ferry, LIGHTS, marsh, reeds, type Hour } from '../drawing/marsh';

/** Units of the drawings; films are drawn at any size. */
export const [WIDE, HIGH] = [512, 256];

/** A stretch of a film: how it is drawn at a time between 0 and 1, and how long it lasts. */
export interface Shot {
  readonly seconds: number;
  /** Seconds in which it comes out of the dark and goes into it. */
  readonly fade: number;
  draw(along: number, seconds: number): string;
}

const soft = (along: number): number => along * along * (3 - 2 * along);

/** The picture seen nearer, around a point. */
const near = (scale: number, x: number, y: number, body: string): string =>
  `<g transform="translate(${WIDE / 2} ${HIGH / 2}) scale(${scale}) translate(${-x} ${-y})">${body}</g>`;

const card = (text: string, size: number, y: number, colour: string, seen: number): string =>
  `<g opacity="${seen}">${lettering(text, WIDE / 2, y, size, colour)}</g>`;

const figure = (
  who: Parameters<typeof person>[0],
  mood: Parameters<typeof person>[1],
  x: number,
  y: number,
  scale: number,
): string => `<g transform="translate(${x} ${y}) scale(${scale})">${person(who, mood)}</g>`;

const swaying = (name: string, hour: Hour, x: number, seconds: number): string =>
  `<g transform="translate(${x} 262) skewX(${3 * Math.sin(seconds * 1.3)}) translate(${-x} -262)">${reeds(name, x, 262, 150, 130, LIGHTS[hour].reed)}</g>`;

/** Fog that drifts, in bands. */
const drift = (along: number, thick: number): string =>
  [0, 1, 2, 3]
    .map(
      (i) =>
        `<ellipse cx="${((i * 190 + along * 260) % 800) - 120}" cy="${120 + 28 * i}" rx="210" ry="${22 + 5 * i}" fill="#d8dccd" opacity="${thick * (0.3 + 0.08 * i)}"/>`,
    )
    .join('');

export const OPENING: readonly Shot[] = [
  {
    ...{ seconds: 4.5, fade: 0.9 },
    draw: (along, seconds) =>
      near(1.25 - 0.2 * soft(along), 256, 128, marsh('opening', WIDE, HIGH, 'night')) +
      swaying('opening left', 'night', 60 - 20 * along, seconds) +
      swaying('opening right', 'night', 470 + 20 * along, seconds) +
      card('Oddharbour Works', 26, 120, '#e9ead0', Math.sin(Math.PI * Math.min(1, along * 1.15))),
  },
  {
    ...{ seconds: 5.5, fade: 0.5 },
    draw: (along, seconds) =>
      `<g transform="translate(${-30 * along} 0)">${marsh('crossing', WIDE + 40, HIGH, 'dusk')}</g>` +
      ferry(-60 + 470 * along, 196 + 3 * Math.sin(seconds * 2.4), 1.1) +
      swaying('crossing', 'dusk', 90 - 60 * along, seconds),
  },
  {
    ...{ seconds: 4.5, fade: 0.4 },
    draw: (along, seconds) =>
      near(1.5, 256, 110, marsh('crossing', WIDE, HIGH, 'dusk')) +
      figure(
        'odd',
        along > 0.55 ? 'glad' : 'calm',
        250 + 6 * Math.sin(seconds * 2.4),
        150 + 2 * Math.sin(seconds * 4.1),
        0.95 + 0.1 * soft(along),
      ),
  },
  {
    ...{ seconds: 4.5, fade: 0.6 },
    draw: (along, seconds) =>
      marsh('reeds', WIDE, HIGH, 'fog') +
      `<g opacity="${soft(Math.min(1, along * 1.6))}">${figure('reed_widow', along > 0.7 ? 'cross' : 'calm', 330 - 40 * along, 150, 0.72)}</g>` +
      drift(along, 1.2 - 0.5 * along) +
      swaying('widow left', 'fog', 120, seconds) +
      swaying('widow right', 'fog', 420, seconds),
  },
  {
    ...{ seconds: 3, fade: 0.25 },
    draw: (along, seconds) =>
      near(1.2, 256, 120, marsh('heron', WIDE, HIGH, 'night')) +
      figure(
        'bog_heron',
        'cross',
        200 + 60 * soft(along),
        150 - 20 * Math.sin(seconds * 3),
        1 + 0.3 * soft(along),
      ),
  },
  {
    ...{ seconds: 6, fade: 0.8 },
    draw: (along, seconds) =>
      marsh('opening', WIDE, HIGH, 'dawn') +
      ferry(520 - 250 * soft(Math.min(1, along * 1.5)), 198 + 2 * Math.sin(seconds * 2), 1, along < 0.6) +
      swaying('dawn', 'dawn', 60, seconds) +
      card('Lanternfen', 58, 74, '#4a2c1c', soft(Math.max(0, (along - 0.35) / 0.65))),
  },
];

export const WIDOW: readonly Shot[] = [
  {
    ...{ seconds: 4, fade: 0.6 },
    draw: (along, seconds) =>
      near(
        1 + 0.3 * soft(along),
        300,
        130,
        marsh('reeds', WIDE, HIGH, 'fog') + figure('reed_widow', 'wary', 320, 150, 0.6),
      ) +
      drift(along * 0.6, 0.8) +
      swaying('count', 'fog', 90, seconds),
  },
  {
    ...{ seconds: 4, fade: 0.5 },
    draw: (along, seconds) =>
      marsh('lamp', WIDE, HIGH, 'night') +
      ferry(256, 200 + 3 * Math.sin(seconds * 2.2), 1.3, along < 0.5) +
      figure('reed_widow', along < 0.5 ? 'cross' : 'glad', 110, 160, 0.5),
  },
];

export const TOLL: readonly Shot[] = [
  {
    ...{ seconds: 4, fade: 0.5 },
    draw: (along, seconds) =>
      marsh('toll', WIDE, HIGH, 'dawn') +
      figure('sallow', along > 0.5 ? 'cross' : 'calm', 170 + 8 * Math.sin(seconds * 1.8), 150, 0.9) +
      ferry(430 - 60 * along, 204, 0.8),
  },
  {
    ...{ seconds: 4, fade: 0.5 },
    draw: (_along, seconds) =>
      near(1.3, 256, 120, marsh('toll', WIDE, HIGH, 'dawn')) +
      figure('ibis', 'wary', 180, 150, 0.85) +
      figure('odd', 'glad', 370 + 4 * Math.sin(seconds * 3), 150, 0.8),
  },
];

/** The quay of Tallow & Tide: a day from fog to dusk. */
export const QUAY: readonly Shot[] = (['fog', 'dawn', 'dusk'] as const).map((hour, i) => ({
  ...{ seconds: 2.5, fade: 0.4 },
  draw: (along, seconds) =>
    marsh('quay', WIDE, HIGH, hour) +
    ferry(60 + 190 * i + 150 * along, 200 + 2 * Math.sin(seconds * 3), 0.9, hour !== 'dawn') +
    (i === 2 ? card('Tallow & Tide', 44, 70, '#2a1a12', soft(along)) : ''),
}));

/** A loop: it ends as it begins. */
export const MENU: readonly Shot[] = [
  {
    ...{ seconds: 4, fade: 0 },
    draw: (along, seconds) =>
      marsh('menu', WIDE, HIGH, 'night') +
      ferry(256 + 24 * Math.sin(2 * Math.PI * along), 198 + 3 * Math.sin(4 * Math.PI * along), 1.2) +
      `<g transform="translate(430 262) skewX(${3 * Math.sin(Math.PI * seconds)}) translate(-430 -262)">${reeds('menu', 430, 262, 150, 130, LIGHTS.night.reed)}</g>`,
  },
];

export const lengthOf = (shots: readonly Shot[]): number =>
  shots.reduce((sum, { seconds }) => sum + seconds, 0);

/** The drawing of a film at a time. */
export function drawn(shots: readonly Shot[], time: number, width: number, height: number): string {
  let begins = 0;
  let shot = shots[0]!;
  for (const one of shots) {
    if (time < begins) break;
    shot = one;
    if (time < begins + one.seconds) break;
    begins += one.seconds;
  }
  const since = Math.min(shot.seconds, time - begins);
  const { fade, seconds } = shot;
  const dark = fade === 0 ? 0 : 1 - Math.min(1, since / fade, (seconds - since) / fade);
  const veil = dark > 0 ? `<rect width="${WIDE}" height="${HIGH}" opacity="${dark.toFixed(3)}"/>` : '';
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${WIDE} ${HIGH}">${shot.draw(since / seconds, time)}${veil}</svg>`;
}
