import { spawn, type ChildProcess } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { FormatError } from '@/core/bytes';

/** What is read are bytes that were opened for it; nothing that a film names is opened beside them. */
const SAFELY = ['-v', 'error', '-nostdin'];
export const INPUT_SAFELY = ['-protocol_whitelist', 'http,tcp'];

const MOST_SAID = 4000;
const MOST_OUTPUT = 64 << 20;

export const noFfmpeg = (error: unknown): unknown =>
  (error as NodeJS.ErrnoException).code === 'ENOENT'
    ? new FormatError('codec-failed', {
        why: 'ffmpeg is not installed',
        remedy: 'Install it (Debian: ffmpeg)',
      })
    : error;

/** What a program said, without the addresses that mean nothing to anybody. */
export const plainWords = (said: string): string =>
  said
    .replace(/http:\/\/127\.0\.0\.1:\S*?(?=[:\s]|$)/g, 'the film')
    .replace(/\S*zero-latch-work-\S*?(?=[:\s]|$)/g, 'the film')
    .trim()
    .split('\n')
    .slice(0, 3)
    .join('; ');

/** Runs a program that ends with whoever started it, however that one ends, and though it stands still. It is part of util-linux. */
const TIED = ['setpriv', '--pdeathsig', 'KILL'];
let isTying: boolean | undefined;
const canTie = (): boolean =>
  (isTying ??= (process.env.PATH ?? '')
    .split(':')
    .some((folder) => fs.existsSync(path.join(folder, TIED[0]!))));

/** Starts ffmpeg; whoever starts it ends it. */
export function startFfmpeg(args: readonly string[], stdio: 'ignore' | 'pipe' = 'ignore'): ChildProcess {
  const [program, ...words] = [...(canTie() ? TIED : []), 'ffmpeg', ...SAFELY, ...args] as [
    string,
    ...string[],
  ];
  return spawn(program, words, { stdio: ['ignore', stdio, 'pipe'] });
}

/** Lets everything else on the machine go first. */
function yieldTo(pid: number): void {
  try {
    os.setPriority(pid, os.constants.priority.PRIORITY_LOW);
  } catch {
    // It has ended already.
  }
}

/** What ffmpeg says of a run, at the level at which filters tell what they found. Throws FormatError as `outputOf` does. */
export function saidBy(args: readonly string[], timeout: number): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn('ffmpeg', ['-hide_banner', '-v', 'info', '-nostats', '-nostdin', ...args], {
      ...{ stdio: ['ignore', 'ignore', 'pipe'], timeout, killSignal: 'SIGKILL' },
    });
    // What a filter found comes last.
    let said = '';
    child.stderr.on('data', (part: Buffer) => (said = (said + String(part)).slice(-8 * MOST_SAID)));
    child.once('error', (error) => reject(noFfmpeg(error) as Error));
    child.once('close', (code) => {
      if (code === 0) return resolve(said);
      reject(
        new FormatError('codec-failed', {
          actual: plainWords(said.trim().split('\n').slice(-3).join('\n')),
          remedy: 'The sound is damaged',
        }),
      );
    });
  });
}

/** What a short run of ffmpeg or ffprobe writes to its output; a patient one lets others go first. Throws FormatError with its own words where it fails or takes too long. */
export function outputOf(
  program: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  timeout: number,
  isPatient = false,
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const safely = program === 'ffmpeg' ? SAFELY : ['-v', 'error'];
    const child = spawn(program, [...safely, ...args], {
      ...{ stdio: ['ignore', 'pipe', 'pipe'], timeout, killSignal: 'SIGKILL' },
    });
    if (isPatient && child.pid !== undefined) yieldTo(child.pid);
    const made: Buffer[] = [];
    let length = 0;
    let said = '';
    child.stdout.on('data', (part: Buffer) => {
      length += part.length;
      if (length > MOST_OUTPUT) child.kill('SIGKILL');
      else made.push(part);
    });
    child.stderr.on('data', (part: Buffer) => {
      if (said.length < MOST_SAID) said += String(part);
    });
    child.once('error', (error) => reject(noFfmpeg(error) as Error));
    child.once('close', (code) => {
      if (code === 0) return resolve(Buffer.concat(made));
      reject(
        new FormatError('codec-failed', {
          actual: plainWords(said) || `no end within ${timeout / 1000} s`,
          remedy: 'The film is damaged, or in a form that ffmpeg does not read',
        }),
      );
    });
  });
}
