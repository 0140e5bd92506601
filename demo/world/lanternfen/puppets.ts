import { seeded } from '../random';
import type { SheetRecipe } from './sheets';

/**
 * The puppet plays of the marsh. Each stage keeps the parts of its puppets on one sheet, scattered as they were cut, with a list
 * that says what lies where and where it hangs on the puppet. All nine sheets have one name.
 */

const STAGES = ['bridge', 'ferry', 'jetty', 'market', 'mill', 'reeds', 'shrine', 'tavern', 'tower'] as const;
type Stage = (typeof STAGES)[number];

/** A part of a puppet: how it is drawn, how large it is, and where it hangs on a puppet of 128 by 192. */
interface Part {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly hangs: readonly [x: number, y: number];
  readonly body: string;
}

const bird = (feathers: string, bill: string): Part[] => [
  {
    name: 'head',
    width: 52,
    height: 28,
    hangs: [58, 4],
    body: `<circle cx="14" cy="14" r="12" fill="${feathers}"/><path d="M22 8 L50 15 L22 20 Z" fill="${bill}"/><circle cx="15" cy="11" r="3" fill="#14100c"/>`,
  },
  {
    name: 'neck',
    width: 20,
    height: 68,
    hangs: [60, 24],
    body: `<path d="M6 2 q14 18 4 34 q-8 14 6 30 l-12 0 q-8 -18 0 -32 q8 -16 -4 -30 Z" fill="${feathers}"/>`,
  },
  {
    name: 'trunk',
    width: 72,
    height: 52,
    hangs: [20, 76],
    body: `<ellipse cx="36" cy="26" rx="34" ry="23" fill="${feathers}"/><path d="M10 30 q26 18 54 2" stroke="#00000044" stroke-width="4" fill="none"/>`,
  },
  {
    name: 'wing',
    width: 60,
    height: 36,
    hangs: [26, 80],
    body: `<path d="M4 6 q34 -8 52 8 q-10 22 -50 18 q14 -10 -2 -26 Z" fill="${feathers}"/><path d="M12 12 l34 6 M14 20 l28 4" stroke="#00000055" stroke-width="3"/>`,
  },
  {
    name: 'tail',
    width: 32,
    height: 24,
    hangs: [2, 92],
    body: `<path d="M30 4 L2 8 L8 14 L2 20 L30 20 Z" fill="${feathers}"/>`,
  },
  {
    name: 'leg_left',
    width: 16,
    height: 72,
    hangs: [42, 120],
    body: `<path d="M7 2 v58 l-6 8 h14 l-6 -8 v-58 Z" fill="${bill}"/>`,
  },
  {
    name: 'leg_right',
    width: 16,
    height: 72,
    hangs: [60, 118],
    body: `<path d="M7 2 v58 l-6 8 h14 l-6 -8 v-58 Z" fill="${bill}"/>`,
  },
];

const walker = (cloth: string, skin: string): Part[] => [
  {
    name: 'head',
    width: 36,
    height: 36,
    hangs: [46, 6],
    body: `<circle cx="18" cy="18" r="16" fill="${skin}"/><circle cx="12" cy="16" r="2.5" fill="#14100c"/><circle cx="24" cy="16" r="2.5" fill="#14100c"/>`,
  },
  {
    name: 'coat',
    width: 64,
    height: 88,
    hangs: [32, 42],
    body: `<path d="M20 2 h24 l18 84 h-60 Z" fill="${cloth}"/><path d="M32 4 v80" stroke="#00000055" stroke-width="3"/>`,
  },
  {
    name: 'arm_left',
    width: 20,
    height: 60,
    hangs: [22, 48],
    body: `<path d="M4 2 h12 v44 l-4 12 h-8 Z" fill="${cloth}"/>`,
  },
  {
    name: 'arm_right',
    width: 20,
    height: 60,
    hangs: [86, 48],
    body: `<path d="M4 2 h12 v44 l-4 12 h-8 Z" fill="${cloth}"/>`,
  },
  {
    name: 'boots',
    width: 48,
    height: 24,
    hangs: [40, 164],
    body: `<path d="M2 2 h16 v12 h8 v-12 h16 v20 h-40 Z" fill="#2a1a12"/>`,
  },
];

/** Who plays where. */
const TROUPES: Readonly<Record<Stage, Readonly<Record<string, Part[]>>>> = {
  bridge: { guard: walker('#4a5a6a', '#d9b48f') },
  ferry: { odd: walker('#7a4a1f', '#c9a07a') },
  jetty: { widow: walker('#2c3a3c', '#b8a08a'), gull: bird('#e6e2d8', '#d9a23c') },
  market: {
    heron: bird('#6f8796', '#d0902e'),
    ibis: bird('#c9573f', '#3a2a22'),
    baker: walker('#b88a4a', '#d9b48f'),
  },
  mill: { miller: walker('#c9c2b0', '#d9b48f') },
  reeds: { bittern: bird('#8a6f45', '#b8a04a') },
  shrine: { keeper: walker('#5a3c5c', '#c9a07a') },
  tavern: { otter: walker('#6a4a34', '#8a6a4a') },
  tower: { lamplighter: walker('#3c5a4a', '#d9b48f') },
};

interface Cut extends Part {
  readonly puppet: string;
  readonly x: number;
  readonly y: number;
}

/** Lays the parts of all puppets of a stage on shelves, in no order that anyone would guess. */
function scattered(stage: Stage, width: number): { cuts: Cut[]; height: number } {
  const random = seeded(`puppets ${stage}`);
  const parts = Object.entries(TROUPES[stage])
    .flatMap(([puppet, own]) => own.map((part) => ({ ...part, puppet })))
    .map((part) => ({ part, key: random() }))
    .sort((a, b) => a.key - b.key);
  const cuts: Cut[] = [];
  let [x, y, shelf] = [4, 4, 0];
  for (const { part } of parts) {
    if (x + part.width + 4 > width) [x, y, shelf] = [4, y + shelf + 4, 0];
    cuts.push({ ...part, x, y });
    x += 4 * Math.ceil((part.width + 4) / 4);
    shelf = Math.max(shelf, 4 * Math.ceil(part.height / 4));
  }
  return { cuts, height: 2 ** Math.ceil(Math.log2(y + shelf + 4)) };
}

const widthOf = (stage: Stage): number => (Object.keys(TROUPES[stage]).length > 1 ? 512 : 256);
const folderOf = (stage: Stage): string => `puppets/${stage}/`;

/** The sheets of all stages. */
export const puppetSheets = (): SheetRecipe[] =>
  STAGES.map((stage) => {
    const width = widthOf(stage);
    const { cuts, height } = scattered(stage, width);
    const body = cuts.map((cut) => `<g transform="translate(${cut.x} ${cut.y})">${cut.body}</g>`).join('');
    return { path: `${folderOf(stage)}pieces.sheet`, width, height, layout: 'bc3', role: 'colour', body };
  });

/** The lists beside them, by path: what lies where, and where it hangs on a puppet. */
export const puppetLists = (): Map<string, string> =>
  new Map(
    STAGES.map((stage) => {
      const rows = scattered(stage, widthOf(stage)).cuts.map(
        ({ puppet, name, x, y, width, height, hangs }) =>
          `${puppet}_${name},${x},${y},${width},${height},${puppet},${hangs[0]},${hangs[1]}`,
      );
      return [
        `${folderOf(stage)}pieces.csv`,
        `name,x,y,width,height,puppet,hangs_x,hangs_y\n${rows.join('\n')}\n`,
      ];
    }),
  );
