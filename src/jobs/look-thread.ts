import type { EntryStore, StoredEntry } from '@/core/archive';
import { readTracks } from '@/media/film/core';
import { FIRST, usesAlpha } from '@/media/picture/core/texture';
import { MOST_TEXELS, TexelGate, texelsOfHead, textureOf, toPng } from '@/media/picture/node/pictures';
import { packedPrint, printFile } from '@/media/model/node/print';
import { knowTables } from '@/media/table/node';
import { takeModel, toldOfTake } from '@/media/model/node/take';
import { readLines, writeLines } from '@/media/text/node/exchange';
import { looseEntry, looseStore } from '@/platform/node/loose-store';
import { withSent } from '@/platform/node/media-scripts';
import { serveRequests, type Answers } from '@/platform/node/threads/serve';
import { readHead } from '@/server/looking/heads';
import type { LookRequests, LooseAt, TexelsAsked, TexelsLooked } from '@/server/looking/look-threads';
import { MOST_PICTURE_BYTES, pixelsOf, shownPng, smallPixelsOf, wholeEntry } from '@/server/looking/preview';
import { packedForm } from '@/server/looking/forms';
import { texelsOf } from '@/server/looking/texels';
import { layDown, MOST_TABLE_BYTES, readBytes } from '@/server/reading/laid-tables';
import { linesWrittenHere } from '@/server/desk/write-lines';
import { writeHere } from '@/server/reading/write-beside';
import { joinHere } from '@/server/boards/joined';
import { editHere } from '@/server/mods/edit-sound';
import { prepare } from '@/server/mods/prepare';
import { openedEntry } from '@/server/opening/opened';
import { checkScriptText } from '@/server/opening/own-scripts';
import { mediaScriptFor, scriptShelf } from '@/server/opening/scripts';

/** Pictures that are unpacked at the same time have as many texels as two of the largest together. */
const gate = new TexelGate(2 * MOST_TEXELS);

/** Does something with a picture once there is room for its texels. */
async function gated<T>(bytes: Uint8Array, name: string, work: () => Promise<T>): Promise<T> {
  const texture = textureOf(bytes, name, mediaScriptFor);
  const texels = texture ? texture.width * texture.height : await texelsOfHead(bytes);
  // Of what tells no size, four texels a byte are taken: rows of one byte each run.
  return gate.run(texels ?? 4 * bytes.length, work);
}

/** A loose file as the only entry of a store. */
function looseAt({ folder, path, size }: LooseAt): { archive: EntryStore; entry: StoredEntry } {
  const entry = looseEntry(0, { path, size, modified: undefined });
  return { archive: looseStore(folder, [entry]), entry };
}

/** The last large picture stays unpacked for a while, since it is looked at in parts. */
let unpacked: { readonly key: string; readonly bytes: Uint8Array } | undefined;
let forgets: NodeJS.Timeout | undefined;
const KEPT_MS = 30_000;

async function largeTexels({ gameId, archiveId, index, place, part }: TexelsAsked): Promise<TexelsLooked> {
  const { archive, entry } = await openedEntry(gameId, archiveId, index);
  const key = `${gameId} ${archiveId} ${index} ${entry.offset} ${entry.storedSize}`;
  if (unpacked?.key !== key) {
    unpacked = undefined;
    unpacked = { key, bytes: wholeEntry({ archive, entry }, MOST_PICTURE_BYTES) };
  }
  clearTimeout(forgets);
  forgets = setTimeout(() => (unpacked = undefined), KEPT_MS).unref();
  return texelsOf(unpacked.bytes, entry.path, place, part);
}

/** Bytes with what was sent along with them noted, so that they open here as they did there. */
function arrived<T extends LookRequests['alpha']['asks']>(asked: T): T {
  if (asked.along) withSent(asked.bytes, asked.along);
  return asked;
}

/** Makes thumbnails, reads heads and fits what is given beside the server, which answers others meanwhile. */
const answers: Answers<LookRequests> = {
  script: checkScriptText,
  tracks: ({ bytes }) => readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length)),
  fit(asked) {
    const { bytes, name, kind, given, givenName, mends } = arrived(asked);
    return prepare(bytes, name, kind, given, givenName, new Set(mends));
  },
  edited({ bytes, name, edits }) {
    return editHere(bytes, name, edits);
  },
  joined: ({ parts }) => joinHere(parts),
  linesRead: ({ given, givenName }) => readLines(given, givenName),
  linesWritten: ({ form, lines, tongues }) => writeLines(form, lines, tongues),
  async thumbnail({ gameId, archiveId, index, most }) {
    const { archive, entry } = await openedEntry(gameId, archiveId, index);
    const bytes = wholeEntry({ archive, entry }, MOST_PICTURE_BYTES);
    const png = await gated(bytes, entry.path, async () =>
      toPng(await smallPixelsOf(bytes, entry.path, most), 'colour', most),
    );
    return new Uint8Array(png);
  },
  async head({ gameId, archiveId, index, loose, most }) {
    const { archive, entry } = loose ? looseAt(loose) : await openedEntry(gameId, archiveId, index);
    return readHead({ gameId, archive, entry }, most);
  },
  async tables({ gameId, archiveId, index, path, isLines }) {
    const opened = await openedEntry(gameId, archiveId, index);
    return layDown(readBytes(wholeEntry(opened, MOST_TABLE_BYTES), path, isLines));
  },
  tablesOf: ({ bytes, name, isLines }) => layDown(readBytes(bytes, name, isLines)),
  tableWritten: writeHere,
  linesPutIn: linesWrittenHere,
  texels: largeTexels,
  texelsOf(asked) {
    const { bytes, name, place, part } = arrived(asked);
    return gated(bytes, name, () => texelsOf(bytes, name, place, part));
  },
  pixels(asked) {
    const { bytes, name, place } = arrived(asked);
    return gated(bytes, name, () => pixelsOf(bytes, name, place));
  },
  form(asked) {
    const { bytes, name } = arrived(asked);
    return packedForm(bytes, name);
  },
  print(asked) {
    const { bytes, name, settings } = arrived(asked);
    return packedPrint(bytes, name, settings, mediaScriptFor);
  },
  printFile(asked) {
    const { bytes, name, settings, as } = arrived(asked);
    return printFile(bytes, name, settings, as, mediaScriptFor);
  },
  taken: (asked) => toldOfTake(arrived(asked), mediaScriptFor),
  takeModel: (asked) => takeModel(arrived(asked), mediaScriptFor),
  alpha(asked) {
    const { bytes, name } = arrived(asked);
    return gated(bytes, name, async () => usesAlpha(await pixelsOf(bytes, name, FIRST)));
  },
  png(asked) {
    const { bytes, name } = arrived(asked);
    return gated(
      bytes,
      name,
      async () => new Uint8Array(await shownPng(await pixelsOf(bytes, name, asked.place), asked)),
    );
  },
};

/** Texels and pictures are handed over rather than copied, unless others hold the same memory. */
function moved(gives: LookRequests[keyof LookRequests]['gives']): ArrayBuffer[] {
  if (typeof gives !== 'object') return [];
  const bytes =
    gives instanceof Uint8Array
      ? gives
      : 'pixels' in gives
        ? gives.pixels.data
        : 'data' in gives
          ? gives.data
          : undefined;
  const isOwn = bytes?.buffer instanceof ArrayBuffer && bytes.byteLength === bytes.buffer.byteLength;
  return isOwn && bytes.buffer !== unpacked?.bytes.buffer ? [bytes.buffer as ArrayBuffer] : [];
}

// What is written into a table is read there, read again, fitted and shown, with what it was.
knowTables(3);
// What every look needs, read while nobody waits yet.
scriptShelf();
serveRequests(answers, moved);
