import { createHash } from 'node:crypto';
import { encodeAdpcm, nibbleBytes } from '../adpcm';
import { OutBytes } from '../out-bytes';
import { writeSongbook, type Songbook, type Take } from '../songbook-writer';
import { bell, chirp, mumble, tune, wash } from '../sounds';
import { opus } from '../tools';
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
function longTake(name: string, wave: Buffer): Take {
  const data = opus(wave);
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

/** What the Reed Widow says, take by take; her book has a number, and so have her takes. */
const WIDOW = [
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
];

/** The numbered book of the Widow's takes: short ones in codes, long ones as Opus. */
export function widowSongbook(): Songbook {
  const takes = WIDOW.map((line, i) => {
    const name = `0417/${String(i + 1).padStart(3, '0')}`;
    const wave = mumble(line, 190);
    return line.length < 30 ? shortTake(name, wave) : longTake(name, wave);
  });
  return writeSongbook(takes, GAME_KEY, createHash('md5').update('widow songbook').digest().subarray(0, 8));
}

/** Names of books and takes by their numbers, as the game's makers keep them. */
export const songIds = (): string => ['code,name', '0417,Reed Widow', '0418,Captain Sallow', ''].join('\n');

/** What is sung and rung on the ferry. */
export function ferrySongbook(): Songbook {
  const takes: Take[] = [];
  for (let n = 1; n <= 6; n++) {
    takes.push(shortTake(`bell/far_${n}`, bell(120 + n * 31).subarray(0, 44 + 2 * 9000)));
    takes.push(shortTake(`frog/reply_${n}`, chirp(180 + n * 20, 300 + n * 30, 1 + (n % 3))));
    takes.push(shortTake(`water/oar_${n}`, wash(`oar ${n}`, 0.1 + n * 0.02, 2).subarray(0, 44 + 2 * 12000)));
  }
  for (const [name, notes] of Object.entries(TUNES)) {
    const wave = tune(name, [...notes, ...notes]);
    takes.push(longTake(`song/${name}/strings`, wave));
    takes.push(
      longTake(`song/${name}/hum`, mumble(`${Object.values(SPOKEN.ibis).join(' ')} ${name}`, notes[0]!)),
    );
  }
  return writeSongbook(takes, GAME_KEY, createHash('md5').update('ferry songbook').digest().subarray(0, 8));
}
