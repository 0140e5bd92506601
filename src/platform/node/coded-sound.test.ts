import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { worded } from '@/core/fit';
import { FormatError } from '@/core/bytes';
import { parseScript } from '@/core/script';
import { fitBy } from '@/media/asking';
import { MEDIA_NODE } from '@/media/node';
import { readWave, readWaveFacts } from '@/media/sound/core/audio';
import { soundWording } from '@/media/sound/core/wording';
import type { MediaTools } from '@/media/medium';
import { wrappedSoundOf, type MediaScripts } from './media-scripts';

/** Sounds in forms that ffmpeg reads when a script names them. */
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-coded-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

function coded(name: string, words: readonly string[], seconds = 1, hertz = 440): Buffer {
  const file = path.join(folder, name);
  const sine = `sine=frequency=${hertz}:duration=${seconds}`;
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', sine, ...words, file]);
  return fs.readFileSync(file);
}
const scriptOf = (sound: string) =>
  parseScript(`
format script: 1
title: Reeds
for: files
recognise: [{ at: 0, text: REED }]
byte order: little
records:
  head: { tag: text(4), length: { type: u32, derived: size(payload) }, sum: { type: u32, derived: crc32(plain(payload)) } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'reed'", size: length, payload: { at: '12', size: length } }
sound: { codec: "'ffmpeg'", ${sound} }
`);
const shelf =
  (sound: string): MediaScripts =>
  (source, section) => {
    if (section !== 'sound') return undefined;
    const isOurs = Buffer.from(source.read(0, 4)).toString() === 'REED';
    return isOurs ? ({ script: scriptOf(sound) } as ReturnType<MediaScripts>) : undefined;
  };
/** A file of the script around coded bytes; its check is set as the engine sets it. */
function reed(bytes: Uint8Array): Uint8Array {
  const head = Buffer.alloc(12);
  head.write('REED');
  head.writeUInt32LE(bytes.length, 4);
  head.writeUInt32LE(crc32(bytes), 8);
  return new Uint8Array(Buffer.concat([head, bytes]));
}
function crc32(bytes: Uint8Array): number {
  let sum = 0xffffffff;
  for (const byte of bytes) {
    sum ^= byte;
    for (let bit = 0; bit < 8; bit++) sum = (sum >>> 1) ^ (sum & 1 ? 0xedb88320 : 0);
  }
  return (sum ^ 0xffffffff) >>> 0;
}
const heard = (sound: string, bytes: Uint8Array): Uint8Array =>
  wrappedSoundOf(reed(bytes), 'a.reed', shelf(sound))!.inner;
const decodedBy = (file: string, form: string): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', path.join(folder, file), '-f', form, '-'], {
    maxBuffer: 1 << 26,
  });

describe('a sound whose form a script names', () => {
  test.each([
    [
      'with a head of its own, lossless',
      'a.tta',
      ['-ar', '44100', '-c:a', 'tta'],
      'demuxer: "\'tta\'"',
      's16le',
      16,
    ],
    [
      'of 24 bits',
      'b.wv',
      ['-c:a', 'wavpack', '-sample_fmt', 's32p', '-ar', '48000'],
      'demuxer: "\'wv\'"',
      's32le',
      32,
    ],
    ['without a head', 'c.g722', ['-ar', '16000', '-c:a', 'g722'], 'demuxer: "\'g722\'"', 's16le', 16],
    ['of floats', 'd.caf', ['-c:a', 'pcm_f32le', '-ar', '22050'], 'demuxer: "\'caf\'"', 'f32le', 32],
  ] as const)('%s is heard as ffmpeg decodes it', (_what, name, words, sound, form, bits) => {
    const inner = heard(sound, coded(name, words));
    const facts = readWaveFacts(inner);
    expect(facts).toMatchObject({ bits, channels: 1, sort: form === 'f32le' ? 'float' : 'whole' });
    const data = inner.subarray(facts.dataOffset, facts.dataOffset + (bits / 8) * facts.frames);
    expect(Buffer.from(data).equals(decodedBy(name, form))).toBe(true);
  });

  test('what is not in its bytes is said: rate and channels, and what decodes it', () => {
    const raw = coded('e.raw', ['-ar', '8000', '-ac', '2', '-f', 's16le']);
    const { rate, channels } = readWaveFacts(heard("demuxer: \"'s16le'\", rate: '8000', channels: '2'", raw));
    expect([rate, channels]).toEqual([8000, 2]);
    const law = coded('f.raw', ['-ar', '8000', '-f', 'mulaw']);
    const other = "demuxer: \"'mulaw'\", decoder: \"'pcm_alaw'\", rate: '8000'";
    const plain = "demuxer: \"'mulaw'\", rate: '8000'";
    expect(readWave(heard(plain, law)).channels[0]).not.toEqual(readWave(heard(other, law)).channels[0]);
  });

  test.each([
    ['no such form', 'demuxer: "\'nothing_of_that\'"', /nothing_of_that/],
    ['a name with words of the program in it', 'demuxer: "\'wav -i /etc/passwd\'"', /a name of ffmpeg/],
    ['none', '', /what ffmpeg calls the form/],
    ['another form', 'demuxer: "\'tta\'"', /a\.reed/],
    ['one that only names files', 'demuxer: "\'concat\'"', /no list of others/],
  ])('%s: says so', (_what, sound, message) => {
    const bytes = Buffer.from(`ffconcat version 1.0\nfile ${path.join(folder, 'a.tta')}\n`);
    expect(() => heard(sound, bytes)).toThrow(FormatError);
    expect(() => heard(sound, bytes)).toThrow(message);
  });
});

describe('brought back', () => {
  const sound = 'demuxer: "\'g722\'"';
  const slot = reed(coded('slot.g722', ['-ar', '16000', '-c:a', 'g722']));
  const fit = async (given: Uint8Array): Promise<{ bytes: Uint8Array | undefined; said: string[] }> => {
    const tools = { scripts: shelf(sound) } as MediaTools;
    const file = { bytes: slot, name: 'a.reed', kind: 'sound' as const };
    const ready = await fitBy(MEDIA_NODE, file, { bytes: given, name: 'new' }, new Set(), tools);
    return {
      bytes: ready.bytes,
      said: ready.findings.map(
        (finding) => `${finding.state}: ${worded(finding, { sound: soundWording }).what}`,
      ),
    };
  };

  test('one that is in the form already goes in, with all that hangs on it', async () => {
    const other = coded('other.g722', ['-ar', '16000', '-c:a', 'g722'], 2, 900);
    const { bytes, said } = await fit(other);
    expect(said).toEqual(['fits: G722, 2.00 s instead of 1.00 s']);
    expect(Buffer.from(bytes!).equals(reed(other))).toBe(true);
  });

  test('one in another form is refused, though it would be taken for noise', async () => {
    const { bytes, said } = await fit(coded('plain.wav', []));
    expect(bytes).toBeUndefined();
    expect(said).toEqual(['does not fit: the slot has a sound in G722']);
  });
});
