import { createHash } from 'node:crypto';
import { encodeAdpcm, nibbleBytes } from '../adpcm';
import { OutBytes } from '../out-bytes';
import { writeSongbook, type Songbook, type Take } from '../songbook-writer';
import { bell, chirp, mumble, tune, wash } from '../sounds';
import { opus, type Loop } from '../tools';
import { GAME_KEY } from './program';
import { SPOKEN } from './texts';

const RATE = 22050;

/** A short take: first sample, then four bits a sample, earlier ones in the low half. */
function shortTake(name: string, wave: Buffer): Take {
  const { first, nibbles } = encodeAdpcm(wave);
  const data = new OutBytes().u16(first).u16(0).bytes(nibbleBytes(nibbles, true)).whole();
  return { name, codec: 'adpcm', rate: RATE, samples: nibbles.length, data };
}

/** A long take: Ogg Opus. */
async function longTake(name: string, wave: Buffer, loop?: Loop): Promise<Take> {
  const data = await opus(wave, loop);
  return { name, codec: 'opus', rate: 48000, samples: playedSamples(data), data };
}

/** What the last page of an Ogg with Opus says, without what is skipped at its beginning (RFC 7845). */
function playedSamples(data: Buffer): number {
  const last = data.lastIndexOf('OggS');
  return Number(data.readBigUInt64LE(last + 6)) - data.readUInt16LE(data.indexOf('OpusHead') + 10);
}

const TUNES: Record<string, number[]> = {
  crossing: [196, 220, 262, 294, 262, 220, 196, 165, 196, 220, 247, 196],
  widow: [147, 175, 165, 147, 131, 147, 110, 131, 147, 175, 196, 147],
  eels: [262, 330, 392, 330, 294, 349, 440, 349, 262, 330, 262, 196],
  promise: [220, 262, 330, 392, 330, 262, 220, 247, 294, 247, 220, 165],
};

type Tongue = 'en' | 'de' | 'no';

/** A numbered book: whose takes it holds, how high they speak, and what is said, take by take, in each tongue that it was recorded in. */
interface SpokenBook {
  readonly number: string;
  readonly title: string;
  readonly pitch: number;
  readonly lines: Readonly<Partial<Record<Tongue, readonly string[]>>>;
}

const WIDOW: SpokenBook = {
  number: '0417',
  title: 'Reed Widow',
  pitch: 190,
  lines: {
    en: [
      'Row on.',
      'Who is it?',
      'Not tonight.',
      'The lamp, keeper.',
      'No. No. Not the reeds.',
      'I paid for two.',
      'He sleeps below the third plank, and you know it as well as I do.',
      'Leave the oil and go.',
      'Sing it again, slower.',
      'You were late the last time, and the time before, and every time that it mattered.',
      'Hush.',
      'There.',
    ],
    de: [
      'Rudere weiter.',
      'Wer ist da?',
      'Nicht heute.',
      'Die Lampe, Wart.',
      'Nein. Nein. Nicht ins Schilf.',
      'Ich habe für zwei bezahlt.',
      'Er schläft unter der dritten Planke, und du weißt es so gut wie ich.',
      'Lass das Öl da und geh.',
      'Sing es noch einmal, langsamer.',
      'Du kamst das letzte Mal zu spät, und das Mal davor, und jedes Mal, wenn es zählte.',
      'Still.',
      'So.',
    ],
    no: [
      'Ro videre.',
      'Hvem er det?',
      'Ikke i kveld.',
      'Lampen, vokter.',
      'Nei. Nei. Ikke sivet.',
      'Jeg betalte for to.',
      'Han sover under den tredje planken, og det vet du like godt som jeg.',
      'La oljen stå og gå.',
      'Syng det igjen, saktere.',
      'Du kom for sent sist, og gangen før, og hver gang det gjaldt.',
      'Hysj.',
      'Slik.',
    ],
  },
};

/** The other numbered books; the Captain was never recorded in Norwegian, and Ibis in English alone. */
const OTHERS: readonly SpokenBook[] = [
  {
    ...{ number: '0402', title: 'Odd the ferry keeper', pitch: 96 },
    lines: { en: Object.values(SPOKEN.odd) },
  },
  {
    ...{ number: '0418', title: 'Captain Sallow', pitch: 118 },
    lines: {
      en: Object.values(SPOKEN.sallow),
      de: [
        'Kapitän Sallow. Vom Hut haben Sie gehört.',
        'Der Zoll macht zwei Münzen. Für Sie drei.',
        'Meine Aale sind gezählt, gnädige Frau. Jede Nacht.',
        'Die Marsch hat Gesetze. Die meisten schrieb ich.',
        'Ein Seil ist nur eine sehr geduldige Schlange.',
        'Ihre Fähre neigt sich. Ich sagte neigt.',
        'Wer hat meine Glocke geläutet? Ich läute seine.',
        'Ich will Sie nicht aufhalten. Das kostet extra.',
      ],
    },
  },
  { ...{ number: '0421', title: 'Ibis', pitch: 205 }, lines: { en: Object.values(SPOKEN.ibis) } },
];

/** The bank of the small noises of boards, oars and frogs: so many takes, none of a second. */
const BANK = { number: '2200', title: 'Boards, oars and frogs' };
const BANK_TAKES = 1000;

const salted = (name: string): Buffer => createHash('md5').update(`${name} songbook`).digest().subarray(0, 8);

const takeName = (book: string, i: number): string => `${book}/${String(i + 1).padStart(3, '0')}`;

/** Takes in other tongues than the first say which. */
const spokenName = (book: string, tongue: Tongue, i: number): string =>
  tongue === 'en' ? takeName(book, i) : `${tongue}/${takeName(book, i)}`;

/** A numbered book in a tongue: short takes in codes, long ones as Opus. */
async function spokenSongbook(
  { number, pitch, lines }: SpokenBook,
  tongue: Tongue,
  salt: string,
): Promise<Songbook> {
  const takes = lines[tongue]!.map((line, i) => {
    const name = spokenName(number, tongue, i);
    const wave = mumble(line, pitch);
    return line.length < 30 ? shortTake(name, wave) : longTake(name, wave);
  });
  return writeSongbook(await Promise.all(takes), GAME_KEY, salted(salt));
}

/** The numbered book of the Widow's takes. */
export const widowSongbook = (): Promise<Songbook> => spokenSongbook(WIDOW, 'en', 'widow');

/** A thousand short takes: every sort of noise that the ferry makes, each a little different. */
function noiseBank(): Songbook {
  const takes = Array.from({ length: BANK_TAKES }, (_, i) => {
    const [sort, n] = [i % 3, Math.floor(i / 3)];
    const ticks = 44 + 2 * (2400 + ((i * 389) % 7000));
    const wave =
      sort === 0
        ? chirp(120 + 2 * n, 200 + 3 * n, 1)
        : sort === 1
          ? wash(`board ${n}`, 0.05 + 0.002 * n, 3)
          : bell(200 + 5 * n, 10_000);
    return shortTake(takeName(BANK.number, i), wave.subarray(0, ticks));
  });
  return writeSongbook(takes, GAME_KEY, salted('noises'));
}

/** All books by where they lie below the folder of songs; those of other tongues in a folder of that tongue. */
export async function songbooks(): Promise<Map<string, Songbook>> {
  const books: [string, Songbook | Promise<Songbook>][] = [['ferry', ferrySongbook()]];
  for (const book of [WIDOW, ...OTHERS])
    for (const tongue of Object.keys(book.lines) as Tongue[]) {
      const own = tongue === 'en' ? book.number : `${tongue}/${book.number}`;
      const salt = book === WIDOW && tongue === 'en' ? 'widow' : own;
      books.push([own, spokenSongbook(book, tongue, salt)]);
    }
  books.push([BANK.number, noiseBank()]);
  return new Map(await Promise.all(books.map(async ([name, book]) => [name, await book] as const)));
}

/** Names of books by their numbers, as the game's makers keep them. */
export const songIds = (): string =>
  ['code,name', ...[WIDOW, ...OTHERS, BANK].map(({ number, title }) => `${number},${title}`), ''].join('\n');

/** What is said in each take, as the makers' list for the speakers has it. */
export const takeLines = (): string =>
  [
    'code,text',
    ...[...OTHERS, WIDOW].flatMap(({ number, lines }) =>
      lines.en!.map((line, i) => `${takeName(number, i)},"${line}"`),
    ),
    '',
  ].join('\n');

/** What is sung and rung on the ferry. */
export async function ferrySongbook(): Promise<Songbook> {
  const takes: (Take | Promise<Take>)[] = [];
  for (let n = 1; n <= 6; n++) {
    takes.push(shortTake(`bell/far_${n}`, bell(120 + n * 31, 9000).subarray(0, 44 + 2 * 9000)));
    takes.push(shortTake(`frog/reply_${n}`, chirp(180 + n * 20, 300 + n * 30, 1 + (n % 3))));
    takes.push(shortTake(`water/oar_${n}`, wash(`oar ${n}`, 0.1 + n * 0.02, 2).subarray(0, 44 + 2 * 12000)));
  }
  for (const [name, notes] of Object.entries(TUNES)) {
    const wave = tune(name, [...notes, ...notes]);
    // The second half is played again and again, as long as the scene lasts.
    const half = Math.round(0.32 * notes.length * 48000);
    takes.push(longTake(`song/${name}/strings`, wave, { start: half, length: half }));
    takes.push(
      longTake(`song/${name}/hum`, mumble(`${Object.values(SPOKEN.ibis).join(' ')} ${name}`, notes[0]!)),
    );
  }
  return writeSongbook(await Promise.all(takes), GAME_KEY, salted('ferry'));
}
