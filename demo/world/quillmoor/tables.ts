import { PEOPLE } from '../drawing/figures';
import { PLACES } from '../drawing/places';
import { SPOKEN } from '../lanternfen/texts';
import type { Plain } from './cbor';

/** The story's tables: rows point at each other by number; some rows nothing reads. */
export function storyTables(): Record<string, Plain> {
  const people = PEOPLE.map((who, i) => ({
    id: 100 + i,
    name: who,
    home: 300 + ((i * 3) % PLACES.length),
    plate: `people/${who}_calm`,
    mood: i % 3,
  }));
  const places = PLACES.map((place, i) => ({
    id: 300 + i,
    name: place,
    q: (i % 4) - 2,
    r: Math.floor(i / 4) - 1,
    near: [300 + ((i + 1) % PLACES.length), 300 + ((i + 3) % PLACES.length)],
    plate: `places/${place}`,
  }));
  const lines = PEOPLE.flatMap((who, i) =>
    Object.values(SPOKEN[who]).map((text) => ({ from: 100 + i, text })),
  );
  const letters = lines.map(({ from, text }, i) => ({
    id: 1000 + i,
    from,
    to: 100 + ((i * 5 + 1) % PEOPLE.length),
    text,
    promise: i % 4 === 0 ? 2000 + (i >> 2) : 0,
    weight: ((i * 37) % 11) / 4,
  }));
  const promises = letters
    .filter(({ promise }) => promise > 0)
    .map(({ promise, id }) => ({ id: promise, letter: id, kept: false, days: 2 + (promise % 5) }));
  // Of an older draft; the program reads no promise from 2900 on.
  promises.push(
    { id: 2901, letter: 0, kept: true, days: 0 },
    { id: 2902, letter: 1000, kept: true, days: 9 },
  );
  const recipes = ['ink', 'lamp oil', 'reed bread', 'wax'].map((name, i) => ({
    id: 400 + i,
    makes: name,
    from: [i + 1, (i * 2 + 3) % 7],
  }));
  const weathers = ['clear', 'fog', 'sleet', 'thaw'].map((name, i) => ({
    id: 500 + i,
    name,
    wind: i / 2,
    next: 500 + ((i + 1) % 4),
  }));
  const scenes = PLACES.map((_, i) => ({
    id: 600 + i,
    place: 300 + i,
    stirs: [100 + (i % PEOPLE.length)],
    weather: 500 + (i % 4),
    opens: 1000 + i,
  }));
  return { people, places, letters, promises, recipes, weathers, scenes };
}
