import { PEOPLE } from '../drawing/figures';
import { GROUNDS } from '../drawing/grounds';
import { PLACES } from '../drawing/places';
import { SPOKEN } from '../lanternfen/texts';
import { seeded } from '../random';
import type { Plain } from './cbor';

type Row = Record<string, Plain>;

/** People who write and carry letters; the first have faces. */
const NAMES = [
  ...['Odd Marren', 'Ibis', 'The Reed Widow', 'Captain Sallow', 'The bog-heron', 'An otter'],
  ...['Old Fenwick', 'Tansy', 'The ink boiler', 'Brother Marl', 'Sedge', 'Aunt Wick'],
  ...['The toll clerk', 'Hobbin', 'Lark', 'The lamp boy', 'Nettle', 'Mother Peat', 'Quill', 'A drowned man'],
];
const MORE_PLACES = ['reed_mill', 'ink_house', 'stilt_row', 'otter_stair', 'salt_gate', 'moor_post'];
const ITEMS = [
  ...[
    'a lantern',
    'ink',
    'lamp oil',
    'reed bread',
    'wax',
    'a seal',
    'eel skin',
    'a reed pen',
    'rope',
    'a bell pull',
  ],
  ...[
    'a shell',
    'dry socks',
    'a map',
    'a mask',
    'tar',
    'a knot',
    'peat',
    'salt',
    'a heron feather',
    'an oar',
  ],
  ...['a toll coin', 'a wet letter', 'a spoon', 'a candle'],
];
const PROMISED = ['the last crossing', 'an answer', 'dry ink', 'silence', 'a light at midnight', 'two coins'];

/** Rows of the story count from these numbers. */
const FIRST = {
  ...{ people: 100, grounds: 50, places: 300, recipes: 400, weathers: 500, scenes: 600, stirs: 700 },
  ...{ items: 800, letters: 1000, promises: 2000 },
};
const PROMISES = 48;

/** Codes of what steps do, each with numbers of two bytes behind it. */
const CODES = { comes: 1, reads: 2, makes: 3, keeps: 4, asks: 5, gives: 6, weather: 7, ends: 0 };

/** Steps as bytes: a code, then its numbers. The second number of a question is the number of the step to go on at, which becomes its place. */
function sceneSteps(steps: readonly (readonly [keyof typeof CODES, ...number[]])[]): Buffer {
  const places: number[] = [];
  let at = 0;
  for (const [, ...values] of steps) {
    places.push(at);
    at += 1 + 2 * values.length;
  }
  return Buffer.concat(
    steps.map(([what, ...values]) => {
      const bytes = Buffer.alloc(1 + 2 * values.length, CODES[what]);
      values.forEach((value, i) =>
        bytes.writeUInt16LE(what === 'asks' && i === 1 ? places[value]! : value, 1 + 2 * i),
      );
      return bytes;
    }),
  );
}

/** The words that steps of scenes are read in. */
export const SCENE_WORDS = `words for: scenes.steps
code: u8
words:
  1: { called: comes, with: { who: u16 people, to: u16 places }, says: '{who} comes to {to}.' }
  2: { called: reads, with: { who: u16 people, letter: u16 letters }, says: '{who} reads aloud: {letter}' }
  3: { called: makes, with: { promise: u16 promises }, says: 'A promise is made: {promise}.' }
  4: { called: keeps, with: { promise: u16 promises }, says: 'A promise is kept: {promise}.' }
  5: { called: asks, with: { promise: u16 promises, else: u16 jump }, says: 'Unless {promise} is kept, on at {else}.' }
  6: { called: gives, with: { who: u16 people, thing: u16 items }, says: '{who} is given {thing}.' }
  7: { called: weather, with: { sky: u16 weathers }, says: 'The sky turns to {sky}.' }
  0: { called: ends, says: 'The scene ends.' }
`;

/** The ground of a place, spot by spot: water in its hollows, stone on its heights, planks across. One of them is wide. */
function groundOf(name: string, number: number): { readonly across: number; readonly tiles: number[] } {
  const random = seeded(`Quillmoor ground of ${name}`);
  const [across, down] = name === 'moor_post' ? [40, 30] : [10, 8];
  const bridge = Math.floor(random() * down);
  const turn = number * 1.7;
  const tiles = Array.from({ length: across * down }, (_, i) => {
    const [x, y] = [i % across, Math.floor(i / across)];
    const high =
      Math.sin(x * 0.55 + turn) + Math.cos(y * 0.6 - turn) + Math.sin((x + y) * 0.3 + turn) + random() * 0.7;
    const ground =
      y === bridge && high < 0.4
        ? 'planks'
        : high < -1
          ? 'water'
          : high < -0.2
            ? 'reeds'
            : high < 0.8
              ? 'peat'
              : high < 1.7
                ? 'moss'
                : 'stone';
    return FIRST.grounds + GROUNDS.indexOf(ground);
  });
  return { across, tiles };
}

/** The story's tables: rows point at each other by number; some rows nothing reads, and some fields are not what they seem. */
export function storyTables(): Record<string, Plain> {
  const random = seeded('Quillmoor tables');
  const any = (count: number): number => Math.floor(random() * count);
  const places = [...PLACES, ...MORE_PLACES];
  const lines = PEOPLE.flatMap((who, i) =>
    Object.values(SPOKEN[who]).map((text) => ({ from: FIRST.people + i, text })),
  );
  const people = NAMES.map((name, i): Row => ({
    id: FIRST.people + i,
    name,
    home: FIRST.places + ((i * 3) % places.length),
    plate: PEOPLE[i] ? `people/${PEOPLE[i]}_calm` : '',
    mood: i % 3,
    // It looks like an age; it is the number of the letter that they wait for.
    age: FIRST.letters + ((i * 7) % lines.length),
  }));
  const grounds = GROUNDS.map((name, i): Row => ({
    id: FIRST.grounds + i,
    name,
    slow: i === 2 ? 4 : 1 + (i % 3),
    looks: `grounds/${name}`,
    // Of an older draft.
    unused: 0,
  }));
  const placeRows = places.map((name, i): Row => ({
    id: FIRST.places + i,
    name,
    q: (i % 4) - 2,
    r: Math.floor(i / 4) - 1,
    near: [FIRST.places + ((i + 1) % places.length), FIRST.places + ((i + 3) % places.length)],
    plate: PLACES[i] ? `places/${PLACES[i]}` : '',
    view: { q: 0, r: 0, wide: 8, high: 6 },
    ...groundOf(name, i),
  }));
  const letters = lines.map(({ from, text }, i): Row => ({
    id: FIRST.letters + i,
    from,
    to: FIRST.people + ((i * 5 + 1) % NAMES.length),
    text,
    promise: i % 2 === 0 ? FIRST.promises + (i % PROMISES) : 0,
    weight: ((i * 37) % 11) / 4,
  }));
  const promises = Array.from({ length: PROMISES }, (_, i): Row => ({
    id: FIRST.promises + i,
    what: PROMISED[i % PROMISED.length]!,
    to: FIRST.people + ((i * 3) % NAMES.length),
    needs: i % 5 === 4 ? FIRST.promises + i - 1 : 0,
    days: 2 + (i % 5),
  }));
  // Of an older draft; the program reads no promise from 2900 on.
  promises.push(
    { id: 2901, what: 'the old ending', to: FIRST.people, needs: 0, days: 0 },
    { id: 2902, what: 'a boat of glass', to: FIRST.people + 2, needs: 2901, days: 9 },
  );
  const items = ITEMS.map((name, i): Row => ({
    id: FIRST.items + i,
    name,
    weight: 1 + ((i * 7) % 9),
    price: i % 4 === 0 ? 0 : 3 + ((i * 13) % 40),
  }));
  const recipes = ['ink', 'lamp oil', 'reed bread', 'wax'].flatMap((makes, i) =>
    Array.from({ length: 5 }, (_, n): Row => ({
      id: FIRST.recipes + 5 * i + n,
      makes: FIRST.items + ITEMS.indexOf(makes),
      from: [
        { item: FIRST.items + any(ITEMS.length), count: 1 + any(3) },
        { item: FIRST.items + any(ITEMS.length), count: 1 },
      ],
      taught: n === 0 ? 0 : FIRST.letters + any(letters.length),
    })),
  );
  const weathers = ['clear', 'fog', 'sleet', 'thaw'].flatMap((name, i) =>
    Array.from({ length: 5 }, (_, n): Row => ({
      id: FIRST.weathers + 5 * i + n,
      name: n === 0 ? name : `${name} ${n + 1}`,
      wind: (i + n) / 2,
      next: FIRST.weathers + ((5 * i + n + 3) % 20),
    })),
  );
  const scenes = Array.from({ length: 40 }, (_, i): Row => {
    const promise = FIRST.promises + ((i * 5) % PROMISES);
    const who = FIRST.people + (i % NAMES.length);
    return {
      id: FIRST.scenes + i,
      place: FIRST.places + (i % places.length),
      weather: FIRST.weathers + (i % 20),
      makes: i % 3 === 0 ? promise : 0,
      keeps: i % 3 === 1 ? promise : 0,
      checks: i % 3 === 2 ? promise : 0,
      gives: i % 4 === 0 ? FIRST.items + any(ITEMS.length) : 0,
      opens: FIRST.letters + (i % letters.length),
      then: i % 6 === 5 ? FIRST.scenes + i - 5 : i < 39 ? FIRST.scenes + i + 1 : 0,
      steps: sceneSteps([
        ['comes', who, FIRST.places + (i % places.length)],
        ['reads', who, FIRST.letters + (i % letters.length)],
        ['asks', promise, 4],
        ['gives', who, FIRST.items + (i % ITEMS.length)],
        i % 3 === 1 ? ['keeps', promise] : ['makes', promise],
        ['weather', FIRST.weathers + (i % 20)],
        ['ends'],
      ]),
    };
  });
  const stirs = Array.from({ length: 64 }, (_, i): Row => ({
    id: FIRST.stirs + i,
    place: FIRST.places + (i % places.length),
    // Every seventh stands outside of what is seen.
    q: i % 7 === 0 ? 9 : any(8),
    r: any(6),
    who: i % 2 === 0 ? FIRST.people + any(NAMES.length) : 0,
    thing: i % 2 === 1 ? FIRST.items + any(ITEMS.length) : 0,
    scene: i % 3 === 0 ? FIRST.scenes + any(40) : 0,
  }));
  return { people, grounds, places: placeRows, letters, promises, items, recipes, weathers, scenes, stirs };
}
