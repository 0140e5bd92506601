import fs from 'node:fs';
import { collect, FormatError, type BytesRef } from '@/core/bytes';
import { readTracks } from '@/media/film/core';
import { openFileSource } from '@/platform/node/file-source';
import { writeFullyAt } from '@/platform/node/file-sink';
import { cuesOf, loopsOf, markChunks, openAdpcmWave, otherChunks, readWaveFacts } from '../core/audio';

/** Where a sound is played again from, and places in it, in seconds. */
export interface MarksAlong {
  readonly loop: { readonly from: number; readonly to: number } | undefined;
  readonly cues: readonly number[];
  /** Samples a second that the sound has. */
  readonly rate: number | undefined;
}
const NONE: MarksAlong = { loop: undefined, cues: [], rate: undefined };

/** Marks of longer wave files are not looked for, since all of such a file would have to be held. */
const MOST_BYTES = 64 << 20;
const HEAD_BYTES = 64 << 10;

/** The marks of a sound that lies in a file: the chunks of a wave file, the comments of what is packed. */
export async function marksIn(plain: BytesRef, file: string, isWave: boolean): Promise<MarksAlong> {
  try {
    return isWave ? ofWave(plain) : await ofPacked(file);
  } catch (error) {
    // What is wrong with it, whoever decodes it says.
    if (error instanceof FormatError) return NONE;
    throw error;
  }
}

function ofWave(plain: BytesRef): MarksAlong {
  if (plain.length > MOST_BYTES) return NONE;
  const stored = collect(plain);
  // Codes in a wave file have their marks in chunks of the same names.
  const bytes = openAdpcmWave(stored)?.inner ?? stored;
  const facts = readWaveFacts(bytes);
  const chunks = otherChunks(bytes, facts);
  const { rate } = facts;
  const [loop] = loopsOf(chunks);
  return {
    loop: loop && { from: loop.from / rate, to: (loop.to + 1) / rate },
    cues: cuesOf(chunks).map((place) => place / rate),
    rate,
  };
}

async function ofPacked(file: string): Promise<MarksAlong> {
  const source = openFileSource(file, file);
  try {
    const head = await readTracks(source.length, (at, length) => source.read(at, length));
    return head?.sort === 'sound' ? { loop: head.loop, cues: [], rate: head.rate } : NONE;
  } finally {
    source.close();
  }
}

/** Puts marks behind the samples of a wave file that was written; one of more than 4 GB has no room for them. */
export function appendMarks(file: string, { loop, cues }: MarksAlong): void {
  if (!loop && cues.length === 0) return;
  const fd = fs.openSync(file, 'r+');
  try {
    const { size } = fs.fstatSync(fd);
    const head = new Uint8Array(Math.min(size, HEAD_BYTES));
    fs.readSync(fd, head, 0, head.length, 0);
    if (String.fromCharCode(...head.subarray(0, 4)) !== 'RIFF') return;
    const { rate, frames } = readWaveFacts(head, size);
    if (frames === 0) return;
    const place = (seconds: number): number => Math.min(frames - 1, Math.max(0, Math.round(seconds * rate)));
    const wanted = loop && { from: place(loop.from), to: place(loop.to - 1 / rate) };
    const isLoop = wanted && wanted.to > wanted.from;
    const chunks = markChunks(rate, isLoop ? wanted : undefined, cues.map(place));
    const parts = chunks.flatMap(({ name, bytes }) => {
      const start = Buffer.alloc(8);
      start.write(name, 'latin1');
      start.writeUInt32LE(bytes.length, 4);
      return [start, bytes, new Uint8Array(bytes.length % 2)];
    });
    const more = Buffer.concat([new Uint8Array(size % 2), ...parts]);
    const length = Buffer.alloc(4);
    length.writeUInt32LE(size + more.length - 8);
    writeFullyAt(fd, more, size);
    writeFullyAt(fd, length, 4);
  } finally {
    fs.closeSync(fd);
  }
}
