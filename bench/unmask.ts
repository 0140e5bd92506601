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

function compare(count: number, size: number): void {
  const files = makeFiles(count, size);
  const one = path.join(work, 'one');
  fs.writeFileSync(one, '');
  for (const file of files) fs.appendFileSync(one, fs.readFileSync(file));
  const out = path.join(work, 'out');
  const clean = (): string => {
    fs.rmSync(out, { recursive: true, force: true });
    fs.mkdirSync(out);
    return out;
  };
  const key = ['-K', '00'.repeat(32), '-iv', '00'.repeat(16)];
  const { baseline, ours, ratio } = interleaved(
    ROUNDS,
    () => timed('openssl', ['enc', '-aes-256-ctr', ...key, '-in', one, '-out', path.join(clean(), 'one')]),
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
    `| unmask ${count} files, ${MB(count * size)}, against \`openssl enc -aes-256-ctr\` of one | ${baseline.seconds.toFixed(2)} s | ${ours.seconds.toFixed(2)} s | **${ratio.toFixed(2)}** | at most 1.5 | ${MB(ours.peak)} |\n`,
  );
  for (const file of [...files, one]) fs.rmSync(file);
}

try {
  process.stdout.write('| what | baseline | ours | ratio | aim | peak memory |\n|---|---|---|---|---|---|\n');
  compare(small ? 50 : 1000, 1 << 20);
  compare(small ? 100 : 2000, 4096);
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}
