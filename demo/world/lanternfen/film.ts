import { painted } from '../drawing/painted';
import { bell, chirp, mixed, mumble, wash } from '../sounds';
import { ivfPieces, oggPieces, writeSpool, type Track } from '../spool-writer';
import { film, opus } from '../tools';
import { drawn, lengthOf, MENU, OPENING, TOLL, WIDOW, type Shot } from './film-scenes';
import { GAME_KEY } from './program';

const RATE = 12;

/** What is said in a film, and from when to when it is written below it, in thousandths of a second. */
export interface Said {
  readonly id: string;
  readonly from: number;
  readonly to: number;
  /** By tongue. */
  readonly text: Readonly<Record<string, string>>;
}

export const OPENING_SAID: readonly Said[] = [
  {
    ...{ id: 'opening.lamps', from: 5000, to: 8200 },
    text: {
      en: 'Every night the keeper rows out.',
      de: 'Jede Nacht rudert der Wärter hinaus.',
      no: 'Hver natt ror vokteren ut.',
    },
  },
  {
    ...{ id: 'opening.back', from: 10_400, to: 13_800 },
    text: {
      en: 'Every night one lantern more comes back.',
      de: 'Jede Nacht kehrt ein Licht mehr zurück.',
      no: 'Hver natt kommer én lykt mer tilbake.',
    },
  },
  {
    ...{ id: 'opening.count', from: 15_000, to: 18_400 },
    text: {
      en: 'She counts the reeds. Do not help her count.',
      de: 'Sie zählt das Schilf. Hilf ihr nicht dabei.',
      no: 'Hun teller sivet. Ikke hjelp henne å telle.',
    },
  },
  {
    ...{ id: 'opening.dry', from: 22_800, to: 26_000 },
    text: {
      en: 'Go dry. Come back dry.',
      de: 'Geh trocken. Kehr trocken zurück.',
      no: 'Gå tørr. Kom tørr tilbake.',
    },
  },
];

const WIDOW_SAID: readonly Said[] = [
  {
    ...{ id: 'widow.lamp', from: 4300, to: 7400 },
    text: {
      en: 'Turn that lamp. It shows too much of me.',
      de: 'Dreh die Lampe weg. Sie zeigt zu viel von mir.',
    },
  },
];

/** What is said in the film of the toll; its texts are kept in the program file. */
export const TOLL_SAID: readonly Said[] = [
  { ...{ id: 'toll.two', from: 600, to: 3400 }, text: { en: 'The toll is two coins. For you, three.' } },
  { ...{ id: 'toll.story', from: 4600, to: 7400 }, text: { en: 'Two coins, or one good story.' } },
];

/** The pictures of a film as PNG. */
export async function frames(
  shots: readonly Shot[],
  width: number,
  height: number,
  rate: number,
): Promise<Buffer[]> {
  const count = Math.round(lengthOf(shots) * rate);
  const all: Buffer[] = [];
  for (let i = 0; i < count; i++)
    all.push(
      await painted(drawn(shots, i / rate, width, height), (picture) =>
        picture.png({ compressionLevel: 1 }).toBuffer(),
      ),
    );
  return all;
}

/** Water below it all, a voice that reads what is said, and whatever rings. */
export function soundtrack(
  shots: readonly Shot[],
  said: readonly Said[],
  tongue: string,
  pitch: number,
  rings: readonly [number, Buffer][],
): Buffer {
  const length = lengthOf(shots);
  const water = Array.from(
    { length: Math.ceil(length / 1.9) },
    (_, i) => [i * 1.9, wash(`film ${i}`, 0.05, 1), 0.35] as const,
  );
  const voices = said.flatMap(({ from, text }) =>
    text[tongue] ? [[from / 1000, mumble(text[tongue], pitch), 0.9] as const] : [],
  );
  return mixed(length, [...water, ...voices, ...rings.map(([at, sound]) => [at, sound, 0.5] as const)]);
}

const marksOf = (said: readonly Said[], others: readonly (readonly [number, string])[]): Track => ({
  ...{ kind: 'marks', tongue: '' },
  pieces: [...others, ...said.map(({ id, from, to }) => [from, `say ${id} ${to - from}`] as const)]
    .sort(([a], [b]) => a - b)
    .map(([time, what]) => ({ time, data: Buffer.from(`${time}\t${what}\n`) })),
});

async function picture(shots: readonly Shot[], width: number, height: number): Promise<Track> {
  return {
    kind: 'picture',
    tongue: '',
    pieces: ivfPieces(await film(await frames(shots, width, height, RATE), RATE), RATE),
  };
}

const tracks = (
  shots: readonly Shot[],
  said: readonly Said[],
  pitches: Readonly<Record<string, number>>,
  rings: readonly [number, Buffer][],
): Promise<Track[]> =>
  Promise.all(
    Object.entries(pitches).map(async ([tongue, pitch]): Promise<Track> => ({
      ...{ kind: 'sound', tongue },
      pieces: oggPieces(await opus(soundtrack(shots, said, tongue, pitch, rings))),
    })),
  );

/** The opening film: a night, a crossing, what lives in the reeds, and the morning; narrated in three tongues. */
export async function openingSpool(): Promise<Buffer> {
  const marks = [
    [0, 'night'],
    [4500, 'crossing'],
    [10_000, 'keeper'],
    [14_500, 'widow'],
    [19_000, 'heron'],
    [22_000, 'title'],
  ] as const;
  const rings: [number, Buffer][] = [
    [3.6, bell(220)],
    [19.2, chirp(500, 260, 3)],
    [22.4, bell(294)],
  ];
  return writeSpool(
    [
      await picture(OPENING, 384, 192),
      ...(await tracks(OPENING, OPENING_SAID, { en: 110, de: 92, no: 128 }, rings)),
      marksOf(OPENING_SAID, marks),
    ],
    GAME_KEY,
  );
}

/** A film that is kept in an archive within an archive. */
export async function widowSpool(): Promise<Buffer> {
  return writeSpool(
    [
      await picture(WIDOW, 320, 160),
      ...(await tracks(WIDOW, WIDOW_SAID, { en: 160, de: 150 }, [[0.8, chirp(300, 200, 2)]])),
      marksOf(WIDOW_SAID, [
        [0, 'reeds'],
        [4000, 'lamp'],
      ]),
    ],
    GAME_KEY,
  );
}

export async function tollSpool(): Promise<Buffer> {
  return writeSpool(
    [
      await picture(TOLL, 320, 160),
      ...(await tracks(TOLL, TOLL_SAID, { en: 118 }, [[0.2, bell(330)]])),
      marksOf(TOLL_SAID, []),
    ],
    GAME_KEY,
  );
}

/** A loop behind the menu, without sound. */
export const menuSpool = async (): Promise<Buffer> => writeSpool([await picture(MENU, 320, 160)], GAME_KEY);

/** The texts of the opening film in a tongue, by what its marks call them. */
export const openingLines = (tongue: string): string =>
  [...OPENING_SAID, ...WIDOW_SAID]
    .map(({ id, text }) => (text[tongue] ? `${id}\t${text[tongue]}\n` : ''))
    .join('');
