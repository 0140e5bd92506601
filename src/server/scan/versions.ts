import { openFileSource } from '@/platform/node/file-source';

/** A version that a file tells. */
export interface Version {
  readonly what: string;
  readonly byteOffset: number;
  readonly how: string;
}

/** How far programs are read for that; the words stand among the read-only data, which begins early. */
const MOST_PROGRAM_BYTES = 64 << 20;
const PIECE = 1 << 20;
/** What a word may reach over from one piece into the next. */
const OVERLAP = 256;
const MOST_FOUND = 6;

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
const namesPattern = (names: readonly string[]): RegExp | undefined =>
  names.length === 0
    ? undefined
    : new RegExp(`(${names.map(escaped).join('|')})[ \\t/_-]{0,3}v?(\\d+(?:\\.\\d+){0,3})`, 'gi');

/** VS_FIXEDFILEINFO of a Windows version resource begins with this, then the structure's own version 1.0. */
const RESOURCE_MARK = '\xbd\x04\xef\xfe\x00\x00\x01\x00';

/**
 * Versions that a program file tells: in a version resource ("VS_FIXEDFILEINFO structure", Microsoft, winver.h: the file
 * version as two little-endian words of 32 bits, the high one first), or beside the name of an engine.
 */
export function versionsInProgram(file: string, engines: readonly string[]): Version[] {
  const found = new Map<string, Version>();
  const pattern = namesPattern(engines);
  const source = openFileSource(file);
  try {
    const end = Math.min(source.length, MOST_PROGRAM_BYTES);
    for (let at = 0; at < end && found.size < MOST_FOUND; at += PIECE) {
      const bytes = source.read(at, Math.min(PIECE + OVERLAP, source.length - at));
      const text = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).toString('latin1');
      const resource = text.indexOf(RESOURCE_MARK);
      if (resource >= 0 && resource + 16 <= text.length) {
        const view = new DataView(bytes.buffer, bytes.byteOffset + resource, 16);
        const [high, low] = [view.getUint32(8, true), view.getUint32(12, true)];
        const what = `version ${high >>> 16}.${high & 0xffff}.${low >>> 16}.${low & 0xffff}`;
        found.set(what, { what, byteOffset: at + resource, how: 'its version resource' });
      }
      for (const match of pattern ? text.matchAll(pattern) : []) {
        const what = `${match[1]} ${match[2]}`;
        if (!found.has(what))
          found.set(what, {
            what,
            byteOffset: at + match.index,
            how: `the text "${textAround(text, match.index)}"`,
          });
      }
    }
  } finally {
    source.close();
  }
  return [...found.values()];
}

/** Versions that a text beside the program tells. */
export function versionsInText(text: string, engines: readonly string[]): Version[] {
  const found = new Map<string, Version>();
  const pattern = namesPattern(engines);
  const plain = /\b(?:version|build)["']?\s*[:=]?\s*["']?v?(\d+(?:\.\d+){1,3})/gi;
  const add = (what: string, index: number): void => {
    const byteOffset = Buffer.byteLength(text.slice(0, index));
    if (!found.has(what)) found.set(what, { what, byteOffset, how: `the text "${textAround(text, index)}"` });
  };
  for (const match of pattern ? text.matchAll(pattern) : []) add(`${match[1]} ${match[2]}`, match.index);
  for (const match of text.matchAll(plain)) add(`version ${match[1]}`, match.index);
  return [...found.values()].slice(0, MOST_FOUND);
}

/** The printable signs from a place on. */
const textAround = (text: string, index: number): string =>
  /^[\x20-\x7e\u00a0-\uffff]{0,60}/.exec(text.slice(index))?.[0].trim() ?? '';
