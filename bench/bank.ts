// A thousand MP3 files on the thousand takes of a keyed bank: converted for their slots, built and proved, as a mod does it.
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { GAME_KEY } from '../demo/world/lanternfen/program';
import { songbooks } from '../demo/world/lanternfen/songs';
import { openArchive } from '../src/core/archive';
import { collect, memorySource, refOfBytes, type BytesRef } from '../src/core/bytes';
import { emit, planArchive, proveArchive } from '../src/core/mod';
import { parseScript } from '../src/core/script';
import { fitBy } from '../src/media/asking';
import { readTracks } from '../src/media/film/core';
import { MEDIA_NODE } from '../src/media/node';
import { besideEntry, describedIn, withBeside } from '../src/platform/node/media-scripts';
import { nodePrimitives } from '../src/platform/node/primitives';

/** So many are converted at once, as the server has two cores for them. */
const AT_ONCE = 2;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-bank-'));
const none = (): undefined => undefined;
const timed = async <T>(what: string, work: () => T | Promise<T>): Promise<T> => {
  const began = performance.now();
  const result = await work();
  process.stdout.write(`${what}: ${((performance.now() - began) / 1000).toFixed(1)} s\n`);
  return result;
};

try {
  const given = Array.from({ length: 16 }, (_, i) => {
    const file = path.join(folder, `${i}.mp3`);
    const source = `sine=frequency=${200 + 30 * i}:duration=${(0.2 + 0.02 * i).toFixed(2)}:sample_rate=44100`;
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', source, '-ac', '2', file]);
    return new Uint8Array(fs.readFileSync(file));
  });
  const script = parseScript(fs.readFileSync('scripts/formats/songbook-peatfire.yaml', 'utf8'));
  const options = { primitives: nodePrimitives, keys: new Map([['game', new Uint8Array(GAME_KEY)]]) };
  const { book } = (await songbooks()).get('2200')!;
  const archive = openArchive(script, memorySource(book, '2200.songbook'), options);
  const tools = {
    scripts: none,
    pixelsOf: () => Promise.reject(new Error('no picture')),
    encodeImage: () => Promise.reject(new Error('no picture')),
    tracksOf: (bytes: Uint8Array) =>
      readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length)),
  };
  const changes = new Map<number, BytesRef>();
  await timed(`${archive.entries.length} MP3 files made ready for their takes`, async () => {
    const waiting = [...archive.entries];
    await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        for (let entry = waiting.shift(); entry; entry = waiting.shift()) {
          const bytes = withBeside(
            collect(archive.plain(entry)),
            besideEntry(archive, entry.path),
            describedIn(archive, entry),
          );
          const name = `${entry.index}.mp3`;
          const made = await fitBy(
            MEDIA_NODE,
            { bytes, name: entry.path, kind: 'sound' },
            { bytes: given[entry.index % given.length]!, name },
            new Set(['convert sound']),
            tools,
          );
          if (!made.bytes) throw new Error(`${entry.path}: ${JSON.stringify(made.findings)}`);
          changes.set(entry.index, refOfBytes(made.bytes));
        }
      }),
    );
  });
  const built = await timed('built', () => {
    const [file] = planArchive(archive, changes).files;
    const parts: Uint8Array[] = [];
    emit(file!, { write: (part) => void parts.push(part.slice()) });
    return new Uint8Array(Buffer.concat(parts));
  });
  const proof = await timed('proved', () =>
    proveArchive(openArchive(script, memorySource(built, '2200.songbook'), options), options),
  );
  process.stdout.write(`the proof ${proof.holds ? 'holds' : 'does not hold'}; ${built.length} bytes\n`);
} finally {
  fs.rmSync(folder, { recursive: true });
}
