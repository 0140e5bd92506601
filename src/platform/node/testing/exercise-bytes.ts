import { typeOfHead } from '@/core/kinds';
import { openArchive } from '@/core/archive';
import { FormatError, memorySource, refOfBytes } from '@/core/bytes';
import { listArchive } from '@/core/catalogue';
import { withPatience } from '@/core/codecs';
import { decodedLength, readWave } from '@/media/sound/core/audio';
import { isIvf, readIvfHead, readTracks } from '@/media/film/core';
import { readModelHead } from '@/media/model/core';
import { decodeAnyText } from '@/media/text/core/encoding';
import { decodeImage } from '@/media/picture/core/texture';
import { nodePrimitives } from '../primitives';
import { mediaScriptsOn, wrappedSoundOf } from '../media-scripts';
import { pixelsBy, textureOf } from '@/media/picture/node/pictures';
import { scriptsFor, type ShelvedScript } from '../script-shelf';

const MOST_ENTRIES = 12;
const MOST_BYTES = 1 << 20;
const PATIENCE_MS = 2000;

/** Does something that strangers' bytes may refuse, in words; any other error leaves it. Gives whether it was taken. */
async function taken(work: () => unknown): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    if (error instanceof FormatError) return false;
    throw error;
  }
}

function readAll(bytes: Uint8Array, { script }: ShelvedScript): void {
  const archive = openArchive(script, memorySource(bytes, 'sample'), { primitives: nodePrimitives });
  try {
    listArchive(archive);
    for (const entry of archive.entries.slice(0, MOST_ENTRIES)) {
      let size = 0;
      try {
        for (const chunk of archive.plain(entry).chunks()) if ((size += chunk.length) > MOST_BYTES) break;
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
      }
    }
    void archive.coverage;
  } finally {
    archive.discard();
  }
}

/**
 * Has everything that reads strangers' bytes read these: every script that knows them, and every reader of pictures, sounds, films, models
 * and texts. Throws what is no FormatError. Gives how many took them. `withTracks` adds the package that reads containers of sound and film,
 * which goes round for ever in some damaged ones; the application gives it a thread that can be ended.
 */
export async function exerciseBytes(
  bytes: Uint8Array,
  shelf: readonly ShelvedScript[],
  withTracks = false,
): Promise<number> {
  const source = memorySource(bytes, 'sample');
  const head = bytes.subarray(0, 4096);
  const media = mediaScriptsOn(shelf);
  const patient = <T>(work: () => T): T =>
    withPatience({ until: Date.now() + PATIENCE_MS, forPiece: () => PATIENCE_MS }, work);
  let count = 0;
  const readers: (() => unknown)[] = [
    ...scriptsFor(source, shelf).map((one) => () => patient(() => readAll(bytes, one))),
    () => typeOfHead(head),
    () => readWave(bytes),
    () => wrappedSoundOf(bytes, 'sample', media),
    () => decodedLength(refOfBytes(bytes)),
    () => isIvf(head) && readIvfHead(head),
    () => readModelHead(bytes, 'glb'),
    () => readModelHead(bytes, 'obj'),
    ...(withTracks ? [() => readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length))] : []),
    () => decodeAnyText(bytes),
    () => {
      const texture = textureOf(bytes, 'sample', media);
      if (texture && texture.width * texture.height <= MOST_BYTES) decodeImage(texture);
    },
    ...['sample.png', 'sample.tga'].map((name) => () => pixelsBy(bytes, name, media)),
  ];
  for (const read of readers) if (await taken(read)) count++;
  return count;
}
