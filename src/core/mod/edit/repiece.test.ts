import fs from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { openArchive, type Archive } from '@/core/archive';
import { memorySource, refOfBytes } from '@/core/bytes';
import { parseScript } from '@/core/script';
import { ivfPieces, writeSpool, type Track } from '../../../../demo/world/spool-writer';
import { failure, key, options } from '../../testing/holds';
import { ivfOf, oggOf } from '../../testing/streams';
import { emit, planArchive } from '../plan';
import { proveBuild } from '../prove-build';
import { editEntries } from './edit-entries';
import { newPieces } from './repiece';

const script = parseScript(fs.readFileSync('scripts/formats/spool-peatfire.yaml', 'utf8'));
const opened = (spool: Uint8Array): Archive =>
  openArchive(script, memorySource(new Uint8Array(spool), 'a.spool'), options);

/** Frames of any length at twelve a second, as a track. */
const pictures = (frames: readonly string[]): Track => ({
  ...{ kind: 'picture', tongue: '' },
  pieces: ivfPieces(Buffer.from(ivfOf(frames, 12)), 12),
});
const sound = (tongue: string, seconds: readonly number[]): Track => {
  const pages = oggOf(seconds);
  return {
    kind: 'sound',
    tongue,
    pieces: pages.map(({ data, time }) => ({ data: Buffer.from(data), time })),
  };
};
const marks = (times: readonly number[]): Track => ({
  ...{ kind: 'marks', tongue: '' },
  pieces: times.map((time, i) => ({ time, data: Buffer.from(`${time}\tmark ${i}\n`) })),
});
const streamOf = ({ pieces }: Track): Buffer => Buffer.concat(pieces.map(({ data }) => data));

/** A spool with other streams in it, written by the engine and proved. */
function exchanged(spool: Uint8Array, streams: Readonly<Record<number, Uint8Array>>): Uint8Array {
  const original = opened(spool);
  const given = new Map(Object.entries(streams).map(([index, bytes]) => [Number(index), refOfBytes(bytes)]));
  const made = editEntries(opened(spool), { pieces: newPieces(original, given) });
  const changes = new Map([...given].map(([index, ref]) => [made.newNumbers[index]!, ref]));
  const plan = planArchive(made.archive, changes, { edits: made.marks });
  const parts: Buffer[] = [];
  emit(plan.files[0]!, { write: (bytes) => void parts.push(Buffer.from(bytes)) });
  const whole = Buffer.concat(parts);
  const proof = proveBuild(original, opened(whole), { changes, edited: made });
  expect(proof.claims.filter(({ holds }) => !holds)).toEqual([]);
  return whole;
}

const before = [
  pictures(['one', 'two', 'three']),
  sound('en', [0.1, 0.2]),
  sound('de', [0.15]),
  marks([100]),
];

describe('streams of a film', () => {
  test.each<[string, Track]>([
    ['more pictures', pictures(Array.from({ length: 40 }, (_, i) => 'x'.repeat(1 + (i % 7) * 5)))],
    ['fewer pictures', pictures(['only one'])],
    ['as many, of other lengths', pictures(['o', 'a longer one than before', ''])],
  ])('%s are written as the game writes them', (_what, track) => {
    const spool = writeSpool(before, key);
    const wanted = writeSpool([track, ...before.slice(1)], key);
    expect(exchanged(spool, { 0: streamOf(track) })).toEqual(wanted);
  });

  test('any tracks, one or all, at any times, once and again', () => {
    const tracks = fc.record({
      frames: fc.array(fc.string({ maxLength: 40 }), { minLength: 1, maxLength: 30 }),
      // Whole thousandths: of halves of a sample the game's writer and a stream may round one each way.
      en: fc.array(
        fc.integer({ min: 10, max: 900 }).map((ms) => ms / 1000),
        { minLength: 1, maxLength: 12 },
      ),
      marks: fc.uniqueArray(fc.nat(4000), { minLength: 1, maxLength: 5 }),
    });
    fc.assert(
      fc.property(tracks, tracks, fc.subarray([0, 1, 3], { minLength: 1 }), (first, second, changed) => {
        let now = before;
        let spool: Uint8Array = writeSpool(before, key);
        for (const { frames, en, marks: times } of [first, second]) {
          const fresh = [
            ...[pictures(frames), sound('en', en), before[2]!],
            marks([...times].sort((a, b) => a - b)),
          ];
          now = now.map((track, i) => (changed.includes(i) ? fresh[i]! : track));
          spool = exchanged(spool, Object.fromEntries(changed.map((i) => [i, streamOf(now[i]!)])));
          expect(Buffer.from(spool).equals(writeSpool(now, key))).toBe(true);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('what is no such stream, or has nothing in it, is refused with its place', () => {
    const spool = writeSpool(before, key);
    const refused = (bytes: Uint8Array, index = 0): string =>
      failure(() => exchanged(spool, { [index]: bytes })).message;
    expect(refused(Buffer.from('a text in the place of a film, long enough'))).toContain('DKIF');
    expect(refused(Buffer.from(ivfOf(['one', 'two'], 12)).subarray(0, 50))).toContain('picture 2');
    expect(refused(Buffer.from(ivfOf([], 12)))).toContain('at least one piece');
    expect(refused(Buffer.from('OggS but no page of it, cut before its end'), 1)).toContain('page 1');
    expect(refused(Buffer.from('soon\tbell\n'), 3)).toContain('line 1');
  });
});
