import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { PROJECT_SEED } from '../demo/world/quillmoor/build';
import { unmasked } from '../demo/runtime/quillmoor/mask';
import { interleaved, MB, timed } from './measure';

/**
 * A project's masked files unmasked in one run, against `openssl enc` of as many bytes: npm run bench:unmask [-- small]
 */
const small = process.argv.includes('small');
const latch = path.join(path.resolve(import.meta.dirname, '..'), 'bin', 'latch');
const ROUNDS = 3;
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-'));

/** Files under the mask of their names: sounds by their first bytes. */
function makeFiles(count: number, size: number): string[] {
  const plain = Buffer.alloc(size);
  for (let i = 0; i < size; i++) plain[i] = Math.imul(i, 2654435761) >>> 13;
  plain.write('RIFF', 0, 'latin1');
  return Array.from({ length: count }, (_, i) => {
    const name = `sound_${String(i).padStart(5, '0')}.note`;
    const file = path.join(work, name);
    fs.writeFileSync(file, unmasked(plain, name, PROJECT_SEED.readUInt32LE()));
    return file;
  });
}

const KEY = `-K ${'00'.repeat(32)} -iv ${'00'.repeat(16)}`;

/** `openssl enc` has the same bytes in one file, or is called for each file as a script would. */
function compare(count: number, size: number, isOne: boolean, aim: string): void {
  const files = makeFiles(count, size);
  const one = path.join(work, 'one');
  if (isOne) for (const file of files) fs.appendFileSync(one, fs.readFileSync(file));
  const out = path.join(work, 'out');
  const clean = (): string => {
    fs.rmSync(out, { recursive: true, force: true });
    fs.mkdirSync(out);
    return out;
  };
  const each = `for f in ${work}/*.note; do openssl enc -aes-256-ctr ${KEY} -in $f -out ${out}/$(basename $f); done`;
  const { baseline, ours, ratio } = interleaved(
    ROUNDS,
    () => {
      clean();
      return isOne
        ? timed('openssl', [
            'enc',
            '-aes-256-ctr',
            ...KEY.split(' '),
            '-in',
            one,
            '-out',
            path.join(out, 'one'),
          ])
        : timed('sh', ['-c', each]);
    },
    () =>
      timed(latch, [
        'extract',
        ...files,
        '--key',
        `project=${PROJECT_SEED.toString('hex')}`,
        '--to',
        clean(),
      ]),
  );
  const written = fs.readdirSync(out).length;
  if (written !== count) throw new Error(`${written} of ${count} files were written`);
  process.stdout.write(
    `| unmask ${count} files, ${MB(count * size)}, against \`openssl enc -aes-256-ctr\` of ${isOne ? 'one file' : 'each'} | ${baseline.seconds.toFixed(2)} s | ${ours.seconds.toFixed(2)} s | **${ratio.toFixed(2)}** | ${aim} | ${MB(ours.peak)} |\n`,
  );
  for (const file of files) fs.rmSync(file);
  fs.rmSync(one, { force: true });
}

try {
  process.stdout.write('| what | baseline | ours | ratio | aim | peak memory |\n|---|---|---|---|---|---|\n');
  compare(16, small ? 4 << 20 : 64 << 20, true, 'at most 1.5');
  compare(small ? 50 : 1000, 1 << 20, true, 'at most 1.5');
  compare(small ? 50 : 1000, 1 << 20, false, 'at most 1.5');
  compare(small ? 100 : 2000, 4096, false, '');
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}
