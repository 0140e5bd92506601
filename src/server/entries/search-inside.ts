import { FormatError, fromHex, type BytesRef } from '@/core/bytes';
import { findRefs } from './entries';
import type { JobContext } from '../running/job-context';
import { ArchivesInTurn } from '../opening/opened';
import { UserError } from '@/platform/user-error';

/** A place inside an entry where something was found. */
export interface InsideHit {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly byteOffset: number;
  /** The text around it, in the encoding that it was found in. */
  readonly around: string;
  readonly encoding: string;
}

export interface InsideResult {
  readonly hits: readonly InsideHit[];
  readonly searched: number;
  readonly bytes: number;
  readonly unreadable: number;
  readonly detail: string;
}

/** More than this nobody goes through. */
const MOST_HITS = 1000;
const MOST_ENTRIES = 2_000_000;
const MOST_HITS_EACH = 20;
const AROUND = 40;

interface Needle {
  readonly bytes: Buffer;
  readonly encoding: string;
}

/** Looks for a text or bytes in the plain bytes of all entries that a search finds. */
export async function searchInside(
  input: { gameId: number; text: string; hex: string; hash: string; folder: string; search: string },
  job: JobContext,
): Promise<InsideResult> {
  const needles = needlesOf(input);
  const refs = await findRefs(
    {
      gameId: input.gameId,
      folder: input.folder,
      search: input.search,
      kind: undefined,
      archiveId: undefined,
      sort: 'archive',
      isDescending: false,
      offset: 0,
      limit: MOST_ENTRIES,
    },
    MOST_ENTRIES,
  );
  const whole = refs.reduce((sum, { size }) => sum + size, 0);
  const hits: InsideHit[] = [];
  let [bytes, unreadable, searched] = [0, 0, 0];
  const inTurn = new ArchivesInTurn(input.gameId);
  try {
    for (const { archiveId, index, path, size } of refs) {
      job.check();
      job.progress(bytes, Math.max(1, whole), 'bytes', path);
      try {
        // They come archive by archive.
        const { archive } = await inTurn.archive(archiveId);
        const entry = archive.entries[index];
        if (!entry) continue;
        for (const hit of hitsIn(archive.plain(entry), needles))
          if (hits.length < MOST_HITS) hits.push({ archiveId, index, path, ...hit });
      } catch (error) {
        if (!(error instanceof FormatError || error instanceof UserError)) throw error;
        unreadable++;
      }
      searched++;
      bytes += size;
      if (hits.length >= MOST_HITS) break;
    }
  } finally {
    inTurn.end();
  }
  const count = (value: number): string => value.toLocaleString('en');
  const entries = new Set(hits.map(({ archiveId, index }) => `${archiveId}:${index}`)).size;
  return {
    hits,
    searched,
    bytes,
    unreadable,
    detail:
      `${hits.length === 0 ? 'Not found' : `Found ${count(hits.length)} times in ${count(entries)} entries`}; ` +
      `${count(searched)} of ${count(refs.length)} entries were gone through` +
      (unreadable > 0 ? `, ${count(unreadable)} could not be read` : '') +
      (hits.length >= MOST_HITS ? '. There may be more; narrow the search' : '') +
      '.',
  };
}

/** A hash of 32 bits stands by chance in every few gigabytes; only longer ones are looked for. */
const NARROW = '00000000';

function needlesOf({ text, hex, hash }: { text: string; hex: string; hash: string }): Needle[] {
  if (hex !== '') {
    const digits = hex.replace(/0x|[\s,]/gi, '');
    const bytes = fromHex(digits);
    if (!bytes || bytes.length === 0)
      throw new UserError(422, `${hex} is no row of bytes. Write two hexadecimal digits for each.`);
    return [{ bytes: Buffer.from(bytes), encoding: 'bytes' }];
  }
  if (text === '') throw new UserError(422, 'Say what to look for.');
  const found = new Map<string, Needle>();
  if (hash !== '' && !hash.startsWith(NARROW))
    for (const bytes of [Buffer.from(hash, 'hex'), Buffer.from(hash, 'hex').reverse()])
      found.set(bytes.toString('hex'), { bytes, encoding: 'bytes' });
  for (const encoding of ['utf8', 'utf16le', 'latin1'] as const) {
    const bytes = Buffer.from(text, encoding);
    if (bytes.toString(encoding) === text && !found.has(bytes.toString('hex')))
      found.set(bytes.toString('hex'), { bytes, encoding });
  }
  return [...found.values()];
}

/** Hits in a stream of pieces, also those that begin in one and end in the next. */
export function* hitsIn(
  ref: BytesRef,
  needles: readonly Needle[],
): Generator<Pick<InsideHit, 'byteOffset' | 'around' | 'encoding'>> {
  const overlap = Math.max(...needles.map(({ bytes }) => bytes.length)) - 1;
  let kept = Buffer.alloc(0);
  let start = 0;
  let count = 0;
  for (const chunk of ref.chunks()) {
    const piece = Buffer.concat([kept, chunk]);
    for (const { bytes, encoding } of needles)
      for (let at = piece.indexOf(bytes); at >= 0; at = piece.indexOf(bytes, at + 1)) {
        // What lies wholly in what was kept was found in the piece before.
        if (at + bytes.length <= kept.length) continue;
        yield { byteOffset: start + at, around: aroundOf(piece, at, bytes.length, encoding), encoding };
        if (++count >= MOST_HITS_EACH) return;
      }
    const next = Buffer.from(piece.subarray(Math.max(0, piece.length - overlap)));
    start += piece.length - next.length;
    kept = next;
  }
}

function aroundOf(piece: Buffer, at: number, length: number, encoding: string): string {
  const step = encoding === 'utf16le' ? 2 : 1;
  const from = Math.max(0, at - AROUND * step);
  const part = piece.subarray(from - ((from - at) % step), at + length + AROUND * step);
  if (encoding === 'bytes') return part.toString('hex').replace(/(..)(?=.)/g, '$1 ');
  return part.toString(encoding as BufferEncoding).replace(/[\0-\x1f\ufffd]+/g, ' ');
}
