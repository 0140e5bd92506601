import { seeded } from '../random';
import { ferry, LIGHTS, marsh, reeds, type Hour } from './marsh';

export const PLACES = [
  'jetty',
  'causeway',
  'boathouse',
  'toll_bell',
  'drowned_chapel',
  'peat_hut',
  'market_raft',
  'lamp_tower',
  'eel_weir',
  'heron_nest',
] as const;
export type Place = (typeof PLACES)[number];

const W = 512;
const H = 256;

const planks = (x: number, y: number, count: number, width: number, tilt: number): string =>
  Array.from(
    { length: count },
    (_, i) =>
      `<path d="M${x + i * width} ${y + i * tilt} l${width - 3} ${tilt} l-10 15 l${3 - width} ${-tilt} Z" fill="${i % 2 ? '#6b4429' : '#7d5232'}"/>`,
  ).join('');

const posts = (x: number, y: number, count: number, gap: number, tilt: number): string =>
  Array.from(
    { length: count },
    (_, i) =>
      `<path d="M${x + i * gap} ${y - 20 + i * tilt} l0 56" stroke="#3c2617" stroke-width="8"/><circle cx="${x + i * gap}" cy="${y - 22 + i * tilt}" r="5" fill="#8a6040"/>`,
  ).join('');

const stones = (name: string, y: number, count: number): string => {
  const random = seeded(name);
  return Array.from({ length: count }, (_, i) => {
    const x = 20 + (i * 470) / count;
    const r = 20 + random() * 10;
    return `<ellipse cx="${x}" cy="${y + Math.sin(i) * 8}" rx="${r}" ry="${r * 0.42}" fill="#56625f"/><ellipse cx="${x - 3}" cy="${y - 4 + Math.sin(i) * 8}" rx="${r * 0.8}" ry="${r * 0.28}" fill="#7f8c84"/>`;
  }).join('');
};

const window_ = (x: number, y: number, w: number, h: number, lit: boolean): string =>
  `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${lit ? '#f7c667' : '#22343a'}"/><path d="M${x + w / 2} ${y} v${h} M${x} ${y + h / 2} h${w}" stroke="#2a1a12" stroke-width="2"/>`;

function house(x: number, y: number, w: number, h: number, wall: string, roof: string, lit: boolean): string {
  return `<rect x="${x}" y="${y - h}" width="${w}" height="${h}" fill="${wall}"/><path d="M${x - 14} ${y - h} L${x + w / 2} ${y - h - w * 0.42} L${x + w + 14} ${y - h} Z" fill="${roof}"/>${window_(x + w * 0.15, y - h * 0.75, w * 0.2, h * 0.34, lit)}<rect x="${x + w * 0.56}" y="${y - h * 0.72}" width="${w * 0.26}" height="${h * 0.72}" fill="#33211a"/><circle cx="${x + w * 0.77}" cy="${y - h * 0.34}" r="2.5" fill="#c58f35"/>`;
}

function feature(place: Place, lit: boolean): string {
  switch (place) {
    case 'jetty':
      return `${posts(30, 196, 7, 46, 2)}${planks(10, 188, 8, 44, 2)}${ferry(404, 186, 0.95, lit)}<rect x="60" y="128" width="66" height="26" fill="#7d5232"/><path d="M93 154 v40" stroke="#3c2617" stroke-width="7"/><path d="M70 136 h46 M70 145 h34" stroke="#efe0b8" stroke-width="3"/>`;
    case 'causeway':
      return `${stones('causeway', 204, 12)}<path d="M250 190 l0 -70 m-16 12 h32" stroke="#3c2617" stroke-width="7"/><circle cx="250" cy="146" r="9" fill="${lit ? '#ffe3a0' : '#4d5c58'}"/>`;
    case 'boathouse':
      return `${house(150, 200, 170, 66, '#5a4636', '#3d4a4a', lit)}<path d="M120 200 h250 v10 h-250 Z" fill="#3c2617"/>${ferry(420, 214, 0.6, false)}<path d="M24 214 q50 22 104 0 l-14 16 h-74 Z" fill="#6b4429"/>`;
    case 'toll_bell':
      return `${stones('bell', 214, 7)}<path d="M200 210 L220 70 L292 70 L312 210" stroke="#4a3020" stroke-width="11" fill="none"/><path d="M206 74 L256 44 L306 74 Z" fill="#3d4a4a"/><path d="M230 86 h52 q-2 44 16 62 h-84 q18 -18 16 -62 Z" fill="#b9852f"/><path d="M236 92 q-2 34 -10 50" stroke="#e9c77a" stroke-width="5" fill="none"/><circle cx="256" cy="156" r="9" fill="#6a4a1a"/>`;
    case 'drowned_chapel':
      return `<path d="M170 220 V110 L226 52 L282 110 V220 Z" fill="#4f5a58"/><path d="M226 52 V22 M214 34 H238" stroke="#2a3434" stroke-width="6"/><path d="M206 210 V150 Q226 118 246 150 V210 Z" fill="${lit ? '#d59a3e' : '#1d2b2d'}"/><rect x="282" y="132" width="110" height="88" fill="#444f4e"/><path d="M282 132 L300 106 H392 V132 Z" fill="#333d3e"/>${[304, 334, 364].map((x) => `<path d="M${x} 196 v-28 q8 -14 16 0 v28 Z" fill="#1d2b2d"/>`).join('')}<path d="M150 212 q120 -12 270 0 v20 h-270 Z" fill="#1b353f" opacity=".8"/>`;
    case 'peat_hut':
      return `${house(190, 204, 120, 54, '#4a3a2a', '#56683f', lit)}<path d="M330 206 q16 -46 44 0 Z M366 206 q16 -36 40 0 Z" fill="#33241a"/><path d="M90 206 h70 l-8 -16 h-54 Z" fill="#3b2a1e"/><path d="M96 190 v-18 h50 v18" fill="#4d3826"/><path d="M262 108 q10 -22 -2 -38 q-14 -18 4 -40" stroke="#c9c6b8" stroke-width="7" fill="none" opacity=".6"/>`;
    case 'market_raft':
      return `<path d="M90 212 h330 l-20 22 h-290 Z" fill="#4a2c1c"/>${[110, 210, 310].map((x, i) => `<path d="M${x} 212 v-58 M${x + 76} 212 v-58" stroke="#3c2617" stroke-width="5"/><path d="M${x - 10} 156 q48 -44 96 0 Z" fill="${['#a8402f', '#c58f35', '#3f6f78'][i]}"/><path d="M${x + 10} 154 q10 -26 28 -32 M${x + 66} 154 q-10 -26 -28 -32" stroke="#efe8d6" stroke-width="4" fill="none"/><circle cx="${x + 18}" cy="204" r="8" fill="#c9603a"/><circle cx="${x + 36}" cy="204" r="8" fill="#8a9a4a"/><circle cx="${x + 54}" cy="204" r="8" fill="#d9b04a"/>`).join('')}`;
    case 'lamp_tower':
      return `<path d="M214 222 L230 78 H282 L298 222 Z" fill="#d9d2bd"/><path d="M222 150 L226 118 H286 L290 150 Z" fill="#a8402f"/><rect x="226" y="50" width="60" height="30" fill="${lit ? '#ffe08a' : '#4d5c58'}" stroke="#2a1a12" stroke-width="4"/><path d="M218 50 L256 20 L294 50 Z" fill="#2c4a46"/>${lit ? '<path d="M256 64 L20 20 L20 92 Z M256 64 L500 26 L500 96 Z" fill="#ffe08a" opacity=".28"/>' : ''}${stones('tower', 226, 6)}`;
    case 'eel_weir':
      return `${Array.from({ length: 15 }, (_, i) => `<path d="M${60 + i * 27} ${176 + (i % 3) * 5} v56" stroke="#4a3020" stroke-width="6"/>`).join('')}<path d="M50 192 q200 30 420 0 M50 212 q200 30 420 0" stroke="#8a6040" stroke-width="5" fill="none"/><path d="M190 236 q20 -26 44 0 t44 0 t40 -4" stroke="#2b3b3e" stroke-width="10" fill="none" stroke-linecap="round"/><path d="M360 156 q26 -30 52 0 v46 q-26 16 -52 0 Z" fill="#a98a55"/><path d="M360 166 h52 M360 180 h52 M372 146 v58 M386 142 v62 M400 146 v58" stroke="#6b5430" stroke-width="3"/>`;
    case 'heron_nest':
      return `<path d="M236 236 Q246 160 214 110 M242 190 Q290 160 306 118" stroke="#3a2a1e" stroke-width="14" fill="none"/><path d="M150 116 q66 52 134 0 q-8 46 -66 48 q-58 -2 -68 -48 Z" fill="#6b5236"/><path d="M150 120 l140 8 M158 130 l120 -14 M170 144 l96 4" stroke="#94795a" stroke-width="4"/><ellipse cx="196" cy="110" rx="14" ry="18" fill="#cfe0d6"/><ellipse cx="222" cy="108" rx="14" ry="18" fill="#bcd3c8"/><ellipse cx="246" cy="112" rx="13" ry="17" fill="#cfe0d6"/><path d="M330 60 q34 -22 52 6 q30 -10 46 8 q-40 2 -54 20 q-20 -18 -44 -34 Z" fill="#2b3b3e"/>`;
  }
}

/** A place of the marsh at an hour, 512 by 256. */
export function placeDrawing(place: Place, hour: Hour): string {
  const lit = hour === 'dusk' || hour === 'night';
  return `${marsh(place, W, H, hour)}${feature(place, lit)}${reeds(`${place} left`, 26, 262, 90, 120, LIGHTS[hour].reed)}${reeds(`${place} right`, 486, 262, 90, 104, LIGHTS[hour].reed)}`;
}
