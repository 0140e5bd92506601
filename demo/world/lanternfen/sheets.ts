import { painted } from '../drawing/painted';
import { COATS, MOODS, PEOPLE, person, type Mood, type Person } from '../drawing/figures';
import { lettering } from '../drawing/lettering';
import { ferry, LIGHTS, marsh, reeds, type Hour } from '../drawing/marsh';
import { placeDrawing, PLACES } from '../drawing/places';
import { PROPS } from '../drawing/props';
import { writeSheet, type Layout } from '../sheet-writer';

/** A picture before it is drawn: what, how large, and in which layout it is kept. */
export interface SheetRecipe {
  path: string;
  width: number;
  height: number;
  layout: Layout;
  role: string;
  body: string;
}

const HOURS: readonly Hour[] = ['dusk', 'fog', 'night', 'dawn'];

export function portrait(who: Person, mood: Mood, coat = COATS[who]): string {
  return `<g transform="translate(128 ${who === 'bog_heron' ? 124 : 138}) scale(.78)">${person(who, mood, coat)}</g>`;
}

/** Cloth as it lies on the cutting table: panels with seams, stripes and a hem. */
function cloth(colour: string, trim: string): string {
  const stripes = Array.from(
    { length: 9 },
    (_, i) => `<path d="M${i * 32} 0 q18 128 -8 256" stroke="#00000022" stroke-width="10" fill="none"/>`,
  ).join('');
  return `<rect width="256" height="256" fill="${colour}"/>${stripes}<path d="M0 206 q64 22 128 0 t128 0 v50 h-256 Z" fill="${trim}"/><path d="M0 200 q64 22 128 0 t128 0" stroke="#f0e0b0" stroke-width="4" stroke-dasharray="9 7" fill="none"/><path d="M86 0 v196 M170 0 v196" stroke="#00000055" stroke-width="3"/><circle cx="128" cy="60" r="11" fill="#c58f35"/><circle cx="128" cy="108" r="11" fill="#c58f35"/><circle cx="128" cy="156" r="11" fill="#c58f35"/><path d="M30 40 h34 v44 h-34 Z M192 40 h34 v44 h-34 Z" fill="#00000033"/>`;
}

function title(): string {
  return `${marsh('title', 512, 256, 'dusk')}${ferry(256, 186, 1.1)}<g transform="translate(236 140) scale(.22)">${person('odd', 'calm')}</g>${reeds('title left', 40, 260, 110, 150, LIGHTS.dusk.reed)}${reeds('title right', 470, 260, 110, 130, LIGHTS.dusk.reed)}${lettering('Lanternfen', 256, 74, 68, '#f6d08a', 'stroke="#3a2216" stroke-width="2"')}${lettering('a night ferry tale', 256, 100, 20, '#f3ead2')}`;
}

function sign(text: string): string {
  return `<path d="M122 128 h12 v120 h-12 Z" fill="#4a2c1c"/><path d="M10 36 h220 l20 44 l-20 44 h-220 Z" fill="#7d5232" stroke="#3c2617" stroke-width="6"/><path d="M20 62 h196 M20 100 h200" stroke="#6b4429" stroke-width="3"/>${lettering(text, 122, 92, text.length > 9 ? 26 : 36, '#f3e3b8')}<circle cx="26" cy="50" r="4" fill="#2a1a12"/><circle cx="26" cy="110" r="4" fill="#2a1a12"/>`;
}

/** Every picture of the game but those of the amends. */
export function sheetRecipes(): SheetRecipe[] {
  const list: SheetRecipe[] = [];
  const add = (
    path: string,
    width: number,
    height: number,
    layout: Layout,
    role: string,
    body: string,
  ): void => {
    list.push({ path, width, height, layout, role, body });
  };
  for (const who of PEOPLE) {
    for (const mood of MOODS)
      add(`actors/${who}/portrait_${mood}.sheet`, 256, 256, 'bc3', 'colour', portrait(who, mood));
    add(`actors/${who}/coat/coat_colour.sheet`, 256, 256, 'bc1', 'colour', cloth(COATS[who], '#2c3a3c'));
    add(
      `actors/${who}/coat/coat_worn_colour.sheet`,
      256,
      256,
      'bc1',
      'colour',
      `${cloth(COATS[who], '#4a3a2a')}<path d="M40 150 l50 24 l-8 34 l-46 -20 Z M180 120 l40 12 l-16 44 Z" fill="#00000044"/><path d="M44 156 l40 20 M182 126 l30 40" stroke="#f0e0b0" stroke-width="3" stroke-dasharray="6 5"/>`,
    );
  }
  for (const place of PLACES)
    for (const hour of HOURS)
      add(`places/${place}/${place}_${hour}.sheet`, 512, 256, 'bc1', 'colour', placeDrawing(place, hour));
  for (const [name, body] of Object.entries(PROPS)) {
    add(`props/${name}/${name}_colour.sheet`, 256, 256, 'bc3', 'colour', body);
    add(`screens/icons/${name}.sheet`, 64, 64, 'rgba8', 'icon', `<g transform="scale(.25)">${body}</g>`);
  }
  add('screens/title.sheet', 512, 256, 'bc7', 'screen', title());
  for (const place of PLACES)
    add(`screens/signs/${place}.sheet`, 256, 256, 'bc3', 'sign', sign(place.replace(/_/g, ' ')));
  return list;
}

/** Pictures that the amends hold puts in the place of older ones. */
export function amendedSheets(): SheetRecipe[] {
  const patched = `${portrait('odd', 'calm', '#7a4a1f')}<path d="M60 196 l34 6 l-4 30 l-32 -6 Z" fill="#c58f35"/><path d="M62 200 l28 28 M92 204 l-32 22" stroke="#5a3b22" stroke-width="3"/>`;
  return [
    {
      path: 'actors/odd/portrait_calm.sheet',
      width: 256,
      height: 256,
      layout: 'bc3',
      role: 'colour',
      body: patched,
    },
    {
      path: 'places/jetty/jetty_dusk.sheet',
      width: 512,
      height: 256,
      layout: 'bc1',
      role: 'colour',
      body: `${placeDrawing('jetty', 'dusk')}<path d="M300 0 V30 M300 30 l-14 22 h28 Z" stroke="#2a1a12" stroke-width="4" fill="#ffe3a0"/><circle cx="300" cy="44" r="26" fill="#f7c667" opacity=".3"/>`,
    },
    {
      path: 'props/ticket/ticket_colour.sheet',
      width: 256,
      height: 256,
      layout: 'bc3',
      role: 'colour',
      body: `${PROPS.ticket}<path d="M150 176 l30 -60" stroke="#a8402f" stroke-width="9"/>`,
    },
  ];
}

/** Draws a recipe and encodes it. */
export async function drawSheet(recipe: SheetRecipe): Promise<Buffer> {
  const { width, height, layout, role } = recipe;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${recipe.body}</svg>`;
  const { data } = await painted(svg, (picture) =>
    picture.ensureAlpha().raw().toBuffer({ resolveWithObject: true }),
  );
  return writeSheet({ width, height, data }, layout, role);
}
