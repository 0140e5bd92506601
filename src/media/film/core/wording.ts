import { findingsOf, type Words } from '@/core/fit';

const round = (number: number): number => Math.round(number * 100) / 100;

export interface MadeFilm {
  readonly width: number;
  readonly height: number;
  readonly rate: number;
  readonly pictures: number;
  readonly codec: string;
  readonly bitRate: number;
}

/** What is found about films that are made for a slot. */
export const filmWording = {
  made: ({ width, height, rate, pictures, codec, bitRate }: MadeFilm): Words => ({
    what: `made here: ${codec.toUpperCase()}, ${width} x ${height}, ${round(rate)} pictures a second, ${pictures} of them`,
    why: `As the slot has it, at ${Math.round(bitRate / 1000)} kbit/s; it was decoded again to the end`,
  }),
  'other-size': ({ is, was }: { is: string; was: string }): Words => ({
    what: `${is} in the place of ${was}`,
    why: 'A player that has made room for the size of the old one may show a part of it, or stop',
  }),
  'other-rate': ({ is, was }: { is: number; was: number }): Words => ({
    what: `${round(is)} pictures a second in the place of ${round(was)}`,
    why: 'A player that counts pictures instead of reading their times runs too fast or too slow',
  }),
  'more-bits': ({ is, was }: { is: number; was: number }): Words => ({
    what: `${Math.round(is / 1000)} kbit/s in the place of ${Math.round(was / 1000)}`,
    why: 'A player that reads no faster than the old film needed will falter',
  }),
  'keys-apart': ({ is, was }: { is: number; was: number }): Words => ({
    what: `${round(is)} s from a picture that one can begin at to the next, in the place of ${round(was)}`,
    why: 'A player that skips, or begins in the middle, shows nothing or rubbish until the next such picture. Code it with key pictures closer together',
  }),
  'other-loudness': ({ is, was }: { is: number; was: number }): Words => ({
    what: `${is > was ? 'louder' : 'quieter'} than the old one: ${round(is)} LUFS in the place of ${round(was)}`,
    why: 'It stands out against the other sounds of the game. Make it as loud as the old one',
  }),
  'now-silent': ({ was }: { was: number }): Words => ({
    what: `nothing is heard in it; the old one has ${round(was)} LUFS`,
    why: 'What was given is silent there. Take another of its sounds, or choose silence on purpose',
  }),
  'marks-behind': ({ seconds, marks }: { seconds: number; marks: readonly string[] }): Words => ({
    what: `${marks.length === 1 ? 'a mark lies' : `${marks.length} marks lie`} behind the end: ${marks.join(', ')}`,
    why: `The new film ends after ${round(seconds)} s; what waits for a mark behind that waits for ever. Change the marks too, or make the film longer`,
  }),
  'kept-apart': ({
    seconds,
    sounds,
  }: {
    seconds: number;
    sounds: readonly { readonly name: string; readonly seconds: number }[];
  }): Words => ({
    what: `kept sounds end at another time: ${sounds.map(({ name, seconds: own }) => `${name} after ${round(own)} s`).join(', ')}`,
    why: `The pictures end after ${round(seconds)} s; a player may go on with a still picture, or be silent. Take a sound of the new film, or silence`,
  }),
  'sound-made': ({
    codec,
    rate,
    channels,
    seconds,
  }: {
    codec: string;
    rate: number;
    channels: number;
    seconds: number;
  }): Words => ({
    what: `made here: ${codec.toUpperCase()}, ${rate} Hz, ${channels === 1 ? 'mono' : `${channels} channels`}, ${round(seconds)} s`,
    why: 'As the slot has it, as long as the pictures',
  }),
  silence: ({ seconds }: { seconds: number }): Words => ({
    what: `silence of ${round(seconds)} s`,
    why: 'It was chosen for this language',
  }),
};
export const foundInFilm = findingsOf<typeof filmWording>('film');
