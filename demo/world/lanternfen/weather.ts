import { nameHash } from '../hold-writer';
import { PROPS } from '../drawing/props';
import type { SheetRecipe } from './sheets';

/** What the weather shows: the lantern's glass, Odd's capes, and the boards of the jetty, near and far. */

/** Glass as it is cut before it is bent: nothing at the edges, a pane that the light comes through. */
const glass = `<path d="M60 24 h136 l22 208 h-180 Z" fill="#ffe3a0" fill-opacity=".45"/><path d="M60 24 h136 l22 208 h-180 Z" fill="none" stroke="#5a3b22" stroke-width="10"/><path d="M104 24 l-12 208 M152 24 l12 208" stroke="#5a3b22" stroke-width="5"/><path d="M74 60 q40 60 12 150" stroke="#fff7de" stroke-opacity=".7" stroke-width="9" fill="none"/>`;
const glow = `<rect width="256" height="256" fill="#050302"/><circle cx="128" cy="140" r="96" fill="#5c3a10"/><circle cx="128" cy="140" r="64" fill="#c07a1c"/><circle cx="128" cy="140" r="30" fill="#ffe08a"/>`;

function cape(colour: string, drops: boolean): string {
  const rain = Array.from(
    { length: 60 },
    (_, i) => `<path d="M${(i * 53) % 256} ${(i * 97) % 256} l-3 11" stroke="#d7e6ea" stroke-width="2"/>`,
  ).join('');
  return `<rect width="256" height="256" fill="${colour}"/><path d="M0 0 h256 v34 q-128 40 -256 0 Z" fill="#00000044"/><path d="M64 30 q-10 110 -50 226 M128 40 v216 M192 30 q10 110 50 226" stroke="#00000055" stroke-width="5" fill="none"/><path d="M104 70 h48 v16 h-48 Z" fill="#c58f35"/>${drops ? rain : ''}`;
}

/** Planks that show where they were mended. */
function boards(width: number, colour: string, mended: boolean): string {
  const scale = width / 512;
  const planks = Array.from(
    { length: 8 },
    (_, i) =>
      `<rect x="0" y="${i * 64}" width="512" height="62" fill="${colour}"/><path d="M0 ${i * 64 + 20} q130 ${(i % 3) * 9} 260 0 t252 4 M0 ${i * 64 + 44} q90 -10 512 2" stroke="#00000033" stroke-width="3" fill="none"/><circle cx="${18 + ((i * 37) % 40)}" cy="${i * 64 + 31}" r="5" fill="#2a1a12"/><circle cx="${470 - ((i * 29) % 40)}" cy="${i * 64 + 31}" r="5" fill="#2a1a12"/>`,
  ).join('');
  const patch = `<rect x="150" y="128" width="200" height="62" fill="#9a7a4a"/><path d="M150 128 v62 M350 128 v62" stroke="#2a1a12" stroke-width="4"/>`;
  return `<g transform="scale(${scale})"><rect width="512" height="512" fill="#1c120c"/>${planks}${mended ? patch : ''}</g>`;
}

const sheet = (
  path: string,
  side: number,
  layout: SheetRecipe['layout'],
  role: string,
  body: string,
): SheetRecipe => ({ path, width: side, height: side, layout, role, body });

export const BOARDS = ['places/jetty/boards_near.sheet', 'places/jetty/boards_far.sheet'] as const;

const bothBoards = (colour: string, mended: boolean): SheetRecipe[] => [
  sheet(BOARDS[0], 512, 'bc1', 'near', boards(512, colour, mended)),
  sheet(BOARDS[1], 128, 'bc1', 'far', boards(128, colour, mended)),
];

/** Sheets of the hold that has all others. */
export const glassSheets = (): SheetRecipe[] => [
  sheet('props/lantern/glass_colour.sheet', 256, 'bc3', 'colour', glass),
  sheet('props/lantern/glass_glow.sheet', 256, 'bc1', 'glow', glow),
  ...bothBoards('#6e4f33', false),
];

/** Sheets of the weather's own hold. */
export const weatherSheets = (): SheetRecipe[] => [
  sheet('actors/odd/cape/cape_rain_colour.sheet', 256, 'bc1', 'colour', cape('#3c5a4a', true)),
  sheet('actors/odd/cape/cape_dry_colour.sheet', 256, 'bc1', 'colour', cape('#5a6a3c', false)),
  sheet(
    'props/kettle/steam_colour.sheet',
    128,
    'bc3',
    'colour',
    `<g transform="scale(.5)">${PROPS.kettle}</g>`,
  ),
];

/** The boards as the amends have them. */
export const amendedBoards = (): SheetRecipe[] => bothBoards('#75583c', true);

/** The table that ties sheets for near to those for far: a tag, a count, and for each pair two hashes and two sizes. */
export function linkTable(): Buffer {
  const out = Buffer.alloc(32);
  out.write('LINK', 0, 'latin1');
  out.writeUInt32LE(1, 4);
  out.writeBigUInt64LE(nameHash(BOARDS[0]), 8);
  out.writeBigUInt64LE(nameHash(BOARDS[1]), 16);
  out.writeUInt32LE(512, 24);
  out.writeUInt32LE(128, 28);
  return out;
}
