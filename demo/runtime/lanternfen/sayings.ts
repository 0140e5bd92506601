import zlib from 'node:zlib';
import { Stall } from '../common/stall';
import { drawnWidth } from './glyphs';

/** A table of sayings as the engine reads it: what is asked for by its name, checked against the sum of its rows. */
export function sayingOf(
  bytes: Buffer,
  name: string,
  what: string,
  widths?: ReadonlyMap<string, number>,
): string {
  if (bytes.length < 20 || bytes.toString('latin1', 0, 8) !== 'SAYINGS\0')
    throw new Stall(what, 'sayings tag', 'this is no table of sayings');
  const count = bytes.readUInt32LE(8);
  const names = 20 + 12 * count;
  const pool = names + bytes.readUInt32LE(12);
  if (pool > bytes.length)
    throw new Stall(what, 'sayings count', `${count} sayings, but ${bytes.length} bytes`);
  if (zlib.crc32(bytes.subarray(20, names)) !== bytes.readUInt32LE(16))
    throw new Stall(what, 'sayings check', 'the sum of its rows is another one');
  const number = bytes.toString('utf8', names, pool).split('\0').indexOf(name);
  if (number < 0 || number >= count) throw new Stall(what, name, 'there is no such saying');
  const row = 20 + 12 * number;
  const [place, size, most] = [
    bytes.readUInt32LE(row),
    bytes.readUInt16LE(row + 4),
    bytes.readUInt8(row + 7),
  ];
  if (place < pool || place + size > bytes.length || bytes[place + size - 1] !== 0)
    throw new Stall(what, name, `its text at ${place} has no end`);
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(place, place + size - 1));
  } catch {
    throw new Stall(what, 'encoding', 'sayings must be UTF-8');
  }
  if (most > 0 && [...text].length > most)
    throw new Stall(what, name, `${[...text].length} signs, and its bubble holds ${most}`);
  const wide = bytes.readUInt16LE(row + 8);
  const is = widths && wide > 0 ? drawnWidth(text, widths) : 0;
  if (is > wide) throw new Stall(what, name, `${is} wide, and its bubble is ${wide}`);
  return text;
}

/** The languages of the menu, by what they are called there. */
export function tonguesOf(bytes: Buffer): { code: string; name: string }[] {
  return bytes
    .toString('utf8')
    .split(/\r?\n/)
    .filter((line) => line.includes('\t'))
    .map((line) => ({ code: line.slice(0, line.indexOf('\t')), name: line.slice(line.indexOf('\t') + 1) }));
}
