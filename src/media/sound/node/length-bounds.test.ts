import { expect, test } from '@jest/globals';
import { worded } from '@/core/fit';
import { parseScript } from '@/core/script';
import { fitBy } from '@/media/asking';
import { MEDIA_NODE } from '@/media/node';
import type { MediaTools } from '@/media/medium';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { plainForm, writeWave } from '../core/audio';
import { soundWording } from '../core/wording';

/** What a program expects of the length of a sound. */
const RATE = 8000;
const script = parseScript(`
format script: 1
title: Mouths
for: files
recognise: [{ at: 0, text: MTH! }]
byte order: little
records:
  head: { tag: text(4), mouth: u16, samples: { type: u32, derived: size(payload) / 2 } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'said'", size: 2 * samples, payload: { at: '10', size: 2 * samples } }
sound: { codec: "'pcm'", rate: '${RATE}', samples: samples, lips: mouth * ${RATE} / 60, longest: '${3 * RATE}' }
`);
const scripts: MediaScripts = (source, section) =>
  section === 'sound' && Buffer.from(source.read(0, 4)).toString() === 'MTH!'
    ? ({ script } as ReturnType<MediaScripts>)
    : undefined;

/** A sound of a second to which a mouth moves for so many sixtieths. */
function slot(mouth: number): Uint8Array {
  const bytes = Buffer.alloc(10 + 2 * RATE, 1);
  bytes.write('MTH!');
  bytes.writeUInt16LE(mouth, 4);
  bytes.writeUInt32LE(RATE, 6);
  return new Uint8Array(bytes);
}
async function fit(mouth: number, seconds: number): Promise<[boolean, string[]]> {
  const samples = Float32Array.from({ length: seconds * RATE }, (_, i) => 0.4 * Math.sin(i / 9));
  const given = { bytes: writeWave([samples], plainForm(RATE, 1)), name: 'new.wav' };
  const file = { bytes: slot(mouth), name: 'a', kind: 'sound' as const };
  const ready = await fitBy(MEDIA_NODE, file, given, new Set(), { scripts } as MediaTools);
  const said = ready.findings.map(
    (finding) => `${finding.state}: ${worded(finding, { sound: soundWording }).what}`,
  );
  return [ready.bytes !== undefined, said.filter((one) => /mouth|at most/.test(one))];
}

test('a mouth that moves for another time is pointed out; what is seen by nobody is not', async () => {
  expect(await fit(60, 1.2)).toEqual([true, []]);
  expect(await fit(60, 0.8)).toEqual([true, []]);
  expect(await fit(60, 2)).toEqual([true, ['look: 2.00 s; the mouth moves for 1.00 s']]);
  expect(await fit(120, 1)).toEqual([true, ['look: 1.00 s; the mouth moves for 2.00 s']]);
});

test('one that is longer than the program takes does not fit; one that is just as long does', async () => {
  expect(await fit(180, 3)).toEqual([true, []]);
  expect(await fit(180, 3.125)).toEqual([false, ['does not fit: 3.13 s; the game takes 3.00 s at most']]);
});
