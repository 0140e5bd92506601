import fs from 'node:fs';
import path from 'node:path';
import { toHex } from '@/core/bytes';

/** Smaller than any program that holds anything. */
export const LEAST_PROGRAM = 4096;
/** A program of less than this part of the largest one is taken for a launcher. */
export const LAUNCHER_PART = 0.25;
const ENDINGS = new Set(['', '.exe', '.bin', '.dll', '.so', '.dylib', '.elf', '.app']);
const MAGICS: readonly [string, string][] = [
  ['4d5a', 'Windows program'],
  ['7f454c46', 'ELF program'],
  ['cffaedfe', 'Mach-O program'],
  ['cafebabe', 'program for several processors'],
];

export const looksLikeLauncher = (name: string): boolean =>
  /launch|setup|unins|crash|redist/i.test(path.basename(name));

/** What sort of program a file is by its first bytes, or by its ending; undefined where it is none. */
export function programSort(file: string): string | undefined {
  try {
    const fd = fs.openSync(file, 'r');
    try {
      const head = new Uint8Array(4);
      fs.readSync(fd, head, 0, 4, 0);
      const known = MAGICS.find(([magic]) => toHex(head).startsWith(magic))?.[1];
      return known ?? (ENDINGS.has(path.extname(file).toLowerCase()) ? 'program or data' : undefined);
    } finally {
      fs.closeSync(fd);
    }
  } catch {
    // What has gone or may not be read is no program to us.
    return undefined;
  }
}

/** Whether a file that is no archive may be a program. */
export const isProgramFile = (
  folder: string,
  { path: name, size, script }: { path: string; size: number; script: string | undefined },
): boolean =>
  script === undefined && size >= LEAST_PROGRAM && programSort(path.join(folder, name)) !== undefined;
