import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { GAME_KEY, programFile } from '../demo/world/lanternfen/program';
import { entriesOf, holdBytes } from '../src/core/testing/holds';
import { startKeySearch } from '../src/jobs/key-search-thread';
import { searchKeys, type KeySearchRequest } from '../src/server/opening/key-search';

/** A program of 64 MiB searched for the key of a hold by two threads, with the key near its end and without: npm run bench:keys */
const SIZE = 64 << 20;
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-'));
const at = (name: string): string => path.join(work, name);
try {
  const files = Object.fromEntries(
    Array.from({ length: 200 }, (_, i) => [`d${i % 9}/f${i}.txt`, `text ${i}`]),
  );
  fs.writeFileSync(at('a.hold'), holdBytes(entriesOf(files), { key: GAME_KEY }));
  const late = programFile('late', SIZE);
  GAME_KEY.copy(late, SIZE - 5000);
  fs.writeFileSync(at('late'), late);
  fs.writeFileSync(at('none'), programFile('none', SIZE));
  for (const [name, what] of [
    ['late', 'with the key near its end'],
    ['none', 'without the key, all looks'],
  ] as const) {
    const request: KeySearchRequest = {
      script: fs.readFileSync('scripts/formats/hold-peatfire-3.yaml', 'utf8'),
      archive: { file: at('a.hold'), name: 'a.hold' },
      program: { file: at(name), name },
    };
    const began = performance.now();
    const other = startKeySearch(request, { from: SIZE / 2, to: SIZE, all: false });
    class Elsewhere extends Error {}
    let tested = 0;
    try {
      const own = searchKeys(request, {
        to: SIZE / 2,
        progress() {
          if (Atomics.load(other.hasFound, 0) === 1) throw new Elsewhere();
        },
      });
      tested += own.tested;
    } catch (error) {
      if (!(error instanceof Elsewhere)) throw error;
    }
    const theirs = await other.result;
    const seconds = (performance.now() - began) / 1000;
    await other.stop();
    if (theirs.found.length !== (name === 'late' ? 1 : 0)) throw new Error('not what was hidden');
    process.stdout.write(
      `| a program of ${SIZE >> 20} MiB ${what} | ${(tested + theirs.tested).toLocaleString('en')} candidates | ${seconds.toFixed(1)} s | under 30 s |\n`,
    );
  }
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}
