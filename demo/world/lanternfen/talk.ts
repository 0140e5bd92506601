import zlib from 'node:zlib';
import { PEOPLE, type Person } from '../drawing/figures';
import { PLACES, type Place } from '../drawing/places';
import { talkWidth } from './glyphs';

/** Languages of the game, as its list has them. */
export const NAMES: Record<string, string> = { en: 'English', de: 'Deutsch', no: 'Norsk' };

interface Words {
  things: readonly string[];
  /** `{place}` and `{thing}` are put in here; whatever else stands in braces is for the game. */
  lines: readonly string[];
}

const WORDS: Record<string, Words> = {
  en: {
    things: ['oil', 'eels', 'lanterns'],
    lines: [
      'Have you brought the {thing} for {place}?',
      'That makes {coins} coins for the {thing}, and not one less.',
      'Nobody leaves {place} without {thing}.',
      '{count, plural, one {# crate} other {# crates}} of {thing} went overboard near {place}.',
      '<b>Careful.</b> The {thing} at {place} bite.',
      'I dreamt of {place}, {name}. There were {thing} everywhere.',
      'The tower at {place} wants {thing} before midnight.',
      'Ask {name} about the {thing}. I only row.',
      'Once there were {thing} enough. Then came the fog.',
      'Hold the rail when we pass {place}!',
      'Two knots past {place} you may sell your {thing}.',
      'Good night, {name}. Keep the {thing} dry.',
    ],
  },
  de: {
    things: ['Öl', 'Aale', 'Laternen'],
    lines: [
      'Hast du {thing} für {place} dabei?',
      'Das macht {coins} Münzen für {thing}, keine weniger.',
      'Ohne {thing} verlässt niemand {place}.',
      '{count, plural, one {# Kiste} other {# Kisten}} {thing} gingen bei {place} über Bord.',
      '<b>Vorsicht.</b> {thing} bei {place} beißen.',
      'Ich habe von {place} geträumt, {name}. Überall {thing}.',
      'Der Turm von {place} braucht vor Mitternacht {thing}.',
      'Frag {name} nach {thing}. Ich rudere nur.',
      'Einst gab es genug {thing}. Dann kam der Nebel.',
      'Halt dich fest, wenn wir an {place} vorbeifahren!',
      'Zwei Knoten hinter {place} kannst du {thing} verkaufen.',
      'Gute Nacht, {name}. Halte {thing} trocken.',
    ],
  },
  no: {
    things: ['olje', 'ål', 'lykter'],
    lines: [
      'Har du med {thing} til {place}?',
      'Det blir {coins} mynter for {thing}, og ikke en mindre.',
      'Ingen forlater {place} uten {thing}.',
      '{count, plural, one {# kasse} other {# kasser}} med {thing} gikk over bord ved {place}.',
      '<b>Forsiktig.</b> {thing} ved {place} biter.',
      'Jeg drømte om {place}, {name}. Det var {thing} overalt.',
      'Tårnet ved {place} vil ha {thing} før midnatt.',
      'Spør {name} om {thing}. Jeg bare ror.',
      'En gang var det nok {thing}. Så kom tåken.',
      'Hold i rekka når vi passerer {place}!',
      'To knop forbi {place} kan du selge {thing}.',
      'God natt, {name}. Hold {thing} tørt.',
    ],
  },
};

const human = (name: string): string => name.replace(/_/g, ' ').replace(/^./, (sign) => sign.toUpperCase());

interface Said {
  key: string;
  who: Person;
  place: Place;
  text: string;
  /** Signs at most that its bubble holds; 0 where nothing bounds it. */
  most: number;
  /** How wide its bubble is; 0 where nothing bounds it. */
  wide: number;
}

/** Everything that is said in one language: each person at each place, of each thing. */
function talk(tongue: string): Said[] {
  const { things, lines } = WORDS[tongue]!;
  const { things: plain, lines: first } = WORDS.en!;
  return PLACES.flatMap((place) =>
    PEOPLE.flatMap((who) =>
      lines.flatMap((line, i) =>
        things.map((thing, n): Said => {
          const text = (of: string, it: string): string =>
            of.replace(/\{place\}/g, human(place)).replace(/\{thing\}/g, it);
          const english = text(first[i]!, plain[n]!);
          return {
            ...{ who, place, text: text(line, thing) },
            key: `${place}.${who}.${String(i * things.length + n + 1).padStart(2, '0')}`,
            most: i % 4 === 0 ? Math.ceil(english.length * 1.5) : 0,
            wide: i % 4 === 1 ? Math.ceil(talkWidth(english) * 1.5) : 0,
          };
        }),
      ),
    ),
  );
}

/**
 * A table of sayings: a head with a sum over its rows, a row for each with the place of its text in the pool, who says it, how many signs it may have and how wide they may be, then the names, then the pool.
 */
export function sayings(tongue: string): Buffer {
  const all = talk(tongue);
  const names = Buffer.concat(all.map(({ key }) => Buffer.from(`${key}\0`)));
  const texts = all.map(({ text }) => Buffer.from(`${text}\0`));
  const rows = Buffer.alloc(12 * all.length);
  let place = 20 + rows.length + names.length;
  all.forEach(({ who, most, wide }, i) => {
    rows.writeUInt32LE(place, 12 * i);
    rows.writeUInt16LE(texts[i]!.length, 12 * i + 4);
    rows.writeUInt8(PEOPLE.indexOf(who), 12 * i + 6);
    rows.writeUInt8(most, 12 * i + 7);
    rows.writeUInt16LE(wide, 12 * i + 8);
    place += texts[i]!.length;
  });
  const head = Buffer.alloc(20);
  head.write('SAYINGS\0', 'latin1');
  head.writeUInt32LE(all.length, 8);
  head.writeUInt32LE(names.length, 12);
  head.writeUInt32LE(zlib.crc32(rows), 16);
  return Buffer.concat([head, rows, names, ...texts]);
}

/** The list of tongues: what each is called in the menu. */
export const tongueList = (): string =>
  Object.entries(NAMES)
    .map(([tongue, name]) => `${tongue}\t${name}\n`)
    .join('');
