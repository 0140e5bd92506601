import { createHash } from 'node:crypto';
import { seeded } from '../random';

/** The game's key. Like all of the demo world it is made from a word, so that every build has the same. */
export const GAME_KEY = createHash('sha256').update('Oddharbour Works, Lanternfen, holds').digest();
export const FROST_KEY = createHash('sha256').update('Oddharbour Works, Lanternfen, frost').digest();
export const FROSTWATER_KEY = createHash('sha256').update('Oddharbour Works, Frostwater').digest();

const NOTES = [
  'holds/%s.hold',
  'cannot mount %s: the deck does not check',
  'lantern oil below one measure',
  'no ferry is due',
];

const NOTE_ROOM = 64;

/**
 * A program file: stretches like code, tables, texts and noise, with the key among things that look like
 * keys. The launcher has no keys.
 */
export function programFile(
  name: string,
  length: number,
  keys: readonly Buffer[] = [],
  engine = 'Peatfire 3.2 Oddharbour Works',
): Buffer {
  const random = seeded(`program ${name}`);
  const out = Buffer.alloc(length);
  for (let i = 0; i < length; i++) {
    const page = (i >> 12) % 4;
    if (page === 0) out[i] = [0x48, 0x8b, 0x89, 0xe8, 0xc3, 0x0f, 0x85, 0x00][Math.floor(random() * 8)]!;
    else if (page === 1) out[i] = random() < 0.5 ? 0 : Math.floor(random() * 32);
    else if (page === 2) out[i] = 0x20 + Math.floor(random() * 90);
    else out[i] = i & 1 ? 0 : Math.floor(random() * 256);
  }
  // Rows of texts, each with room for 64 bytes, behind a zero as compilers leave one.
  out.fill(0, 0x2000 - 1, 0x2000 + NOTE_ROOM * (NOTES.length + 1));
  [engine, ...NOTES].forEach((note, i) => out.write(note, 0x2000 + i * NOTE_ROOM, 'latin1'));
  for (let decoy = 0; decoy < 24; decoy++) {
    const junk = createHash('sha256').update(`${name} decoy ${decoy}`).digest();
    const at = Math.floor(random() * (length - 128));
    if (decoy % 3 === 0) out.write(junk.toString('hex'), at, 'latin1');
    else junk.copy(out, at);
  }
  keys.forEach((key, i) => key.copy(out, Math.floor(length * (0.61 + 0.07 * i)) | 7));
  return out;
}

/** Room for a text in the program file, with the two numbers before it. */
const TEXT_ROOM = 64;

/** Writes texts into a program file: from when to when each is shown (u32, thousandths of a second), and as much text as there is room for, ended by a zero. */
export function withTexts(
  program: Buffer,
  said: readonly {
    readonly from: number;
    readonly to: number;
    readonly text: Readonly<Record<string, string>>;
  }[],
): Buffer {
  const at = 0x6000;
  program.fill(0, at - 16, at + TEXT_ROOM * (said.length + 1));
  program.write('toll.spool', at - 16, 'latin1');
  for (const [i, { from, to, text }] of said.entries()) {
    const own = at + TEXT_ROOM * i;
    program.writeUInt32LE(from, own);
    program.writeUInt32LE(to, own + 4);
    program.write(`${text.en}\0`, own + 8, 'latin1');
  }
  return program;
}
