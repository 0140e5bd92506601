import fs from 'node:fs';
import path from 'node:path';
import { FormatError, windowOf, type BytesRef } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import { serveBytes } from '@/platform/node/byte-server';
import { layDown } from '@/platform/node/lay-down';
import { makeTemporary } from '@/platform/node/temporary';
import type { Flow } from '../core/flow';
import { demuxerOf } from './demuxers';
import { keyDistance } from './key-pictures';
import { probe } from './probe';

const FIRST_BYTES = 1024;

/** How a player has to read a film that lies somewhere; undefined where it is none, or cannot be read. */
export async function flowOf(bytes: BytesRef): Promise<Flow | undefined> {
  const first = windowOf(bytes, 0, FIRST_BYTES);
  const demuxer = demuxerOf(first);
  // Sounds have no pictures; to ask that of each of thousands would take its time.
  if (demuxer === undefined || typeOfHead(first)?.kind !== 'film') return undefined;
  const folder = makeTemporary();
  const laid = layDown(bytes, path.join(folder, 'film'));
  try {
    const served = await serveBytes([laid.ref]);
    try {
      const [url] = served.urls as [string];
      const { picture, seconds } = await probe(url, demuxer, bytes.length);
      if (!picture || !seconds) return undefined;
      const distance = await keyDistance(url, demuxer);
      return {
        bitRate: (8 * bytes.length) / seconds,
        keySeconds: distance === undefined ? undefined : distance / picture.rate,
      };
    } finally {
      served.close();
    }
  } catch (error) {
    // What cannot be read is said by who looks whether it is a film.
    if (error instanceof FormatError) return undefined;
    throw error;
  } finally {
    laid.close();
    fs.rmSync(folder, { recursive: true, force: true });
  }
}
