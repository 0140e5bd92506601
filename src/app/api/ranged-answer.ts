import parseRange from 'range-parser';
import { Readable } from 'node:stream';
import { sliceOf, type BytesRef } from '@/core/bytes';
import { streamOf } from '@/server/recipes/extraction';

/** Bytes, or the part of them that a request asks for (RFC 9110, section 14); `over` is called once all is sent, or whoever asked is gone. */
export function rangedAnswer(
  request: Request,
  ref: BytesRef,
  headers: Readonly<Record<string, string>>,
  over: () => void,
): Response {
  const range = rangeOf(request.headers.get('range'), ref.length);
  if (range === 'outside') {
    over();
    return new Response(null, { status: 416, headers: { 'content-range': `bytes */${ref.length}` } });
  }
  const [from, to] = range ?? [0, ref.length];
  const part = sliceOf(ref, from, to - from);
  const stream = streamOf(part).once('close', over);
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    status: range ? 206 : 200,
    headers: {
      ...{ 'accept-ranges': 'bytes', ...headers, 'content-length': String(part.length) },
      ...(range && { 'content-range': `bytes ${from}-${to - 1}/${ref.length}` }),
    },
  });
}

/** One range of bytes, to before the end; what is asked for in another way is sent whole. */
function rangeOf(asked: string | null, length: number): readonly [number, number] | 'outside' | undefined {
  if (asked === null) return undefined;
  const found = parseRange(length, asked);
  if (found === -1) return 'outside';
  if (found === -2 || found.type !== 'bytes' || found.length !== 1) return undefined;
  const { start, end } = found[0]!;
  return [start, end + 1];
}
