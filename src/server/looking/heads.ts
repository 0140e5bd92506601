import { LRUCache } from 'lru-cache';
import { openArchive } from '@/core/archive';
import { FormatError, collect, memorySource, type BytesRef, type ByteSource } from '@/core/bytes';
import { tellsOf } from '@/media/archive/core';
import type { Head } from '@/media/head';
import type { HeadFile } from '@/media/medium';
import { headBy } from '@/media/asking';
import { MEDIA_NODE } from '@/media/node';
import { viewOf } from '@/core/script';
import { KeyRow, models } from '@/db';
import { besideEntry, describedIn, describedKind, withBeside } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { mediaScriptFor, tellingScriptFor } from '../opening/scripts';
import { presentGame } from '../games/games';
import { hasLookThread, lookBeside } from './look-threads';
import { keysWith } from '../opening/open-file';
import { openedEntry, stampOfEntry, type OpenedEntry } from '../opening/opened';
import { UserError } from '@/platform/user-error';

/** An entry up to this length is unpacked to tell what it is; of a longer one that is packed only the beginning. */
const MOST_WHOLE_BYTES = 8 << 20;
const FIRST_BYTES = 256 << 10;

/** The first `limit` bytes of something, without going through the rest. */
export function firstBytes(ref: BytesRef, limit: number): Uint8Array {
  const out = new Uint8Array(Math.min(limit, ref.length));
  let at = 0;
  for (const chunk of ref.chunks()) {
    out.set(chunk.subarray(0, out.length - at), at);
    at = Math.min(out.length, at + chunk.length);
    if (at >= out.length) break;
  }
  return out;
}

declare global {
  var zeroLatchHeads: LRUCache<string, Head> | undefined;
}

/** Heads that are kept, so that scrolling back costs nothing. */
const MOST_KEPT = 20_000;

/** What the heads of some entries tell, in the order they are asked for. One that cannot be read says why; the others are told. */
export async function entryHeads(
  gameId: number,
  refs: readonly { archiveId: number; index: number }[],
): Promise<Head[]> {
  const heads: Head[] = [];
  for (const { archiveId, index } of refs) {
    heads.push(await keptHead(gameId, archiveId, index));
    // Others are served in between.
    await new Promise(setImmediate);
  }
  return heads;
}

async function keptHead(gameId: number, archiveId: number, index: number): Promise<Head> {
  const kept = (globalThis.zeroLatchHeads ??= new LRUCache<string, Head>({ max: MOST_KEPT }));
  try {
    const opened = await openedEntry(gameId, archiveId, index);
    const stamp = stampOfEntry(opened);
    const known = kept.get(stamp);
    if (known) return known;
    const head = await headBeside(opened);
    kept.set(stamp, head);
    return head;
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    return { sort: 'problem', message: error.message };
  }
}

/**
 * The head of an entry, read beside the server where there is a thread for it: readers of containers go round for ever in some damaged
 * files, and a thread can be ended.
 */
export async function headBeside(opened: OpenedEntry, most?: number): Promise<Head> {
  if (!hasLookThread()) return readHead(opened, most);
  const { gameId, row, entry } = opened;
  const { path, size } = entry;
  const loose = row.sort === 'loose' ? { folder: (await presentGame(gameId)).folder, path, size } : undefined;
  return lookBeside('head', {
    ...{ gameId, archiveId: row.id, index: entry.index },
    ...(most !== undefined && { most }),
    ...(loose && { loose }),
  });
}

/** What an entry tells of itself, read from as little of it as will do; at most `most` bytes are held. */
export async function readHead(
  { gameId, archive, entry }: Omit<OpenedEntry, 'row'>,
  most = MOST_WHOLE_BYTES,
): Promise<Head> {
  const plain = archive.plain(entry);
  const name = entry.path;
  const whole = plain.span || plain.length > most ? undefined : memorySource(collect(plain), name);
  const source = plain.span ? named(viewOf(plain.span.source, plain.span.offset, plain.length), name) : whole;
  const first = source
    ? source.read(0, Math.min(FIRST_BYTES, source.length)).slice()
    : firstBytes(plain, FIRST_BYTES);
  const file: HeadFile = {
    ...{ name, source, first, describedKind: describedKind(entry) },
    held() {
      if (!source || source.length > most) return undefined;
      return withBeside(
        source.read(0, source.length).slice(),
        besideEntry(archive, name),
        describedIn(archive, entry),
      );
    },
  };
  return headBy(MEDIA_NODE, file, mediaScriptFor, () => toldHead(gameId, source));
}

const named = (source: ByteSource, name: string): ByteSource => ({
  name,
  length: source.length,
  read: (offset, length) => source.read(offset, length),
});

/** What a script says that such a file tells; with the keys of the game where it needs one. */
async function toldHead(gameId: number, source: ByteSource | undefined): Promise<Head | undefined> {
  const shelved = source && tellingScriptFor(source);
  if (!shelved) return undefined;
  models();
  const keys = shelved.script.keys.size > 0 ? await KeyRow.findAll({ where: { gameId } }) : [];
  let last: FormatError | undefined;
  for (const bytes of [undefined, ...keys.map((key) => new Uint8Array(key.bytes))]) {
    try {
      const archive = openArchive(shelved.script, source, {
        primitives: nodePrimitives,
        keys: keysWith(shelved.script, bytes),
      });
      try {
        return { sort: 'told', facts: tellsOf(archive) };
      } finally {
        archive.discard();
      }
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      last = error;
    }
  }
  return { sort: 'problem', message: last!.message };
}
