import { randomBytes } from 'node:crypto';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { Readable } from 'node:stream';
import parseRange from 'range-parser';
import { sliceOf, type BytesRef } from '@/core/bytes';

/** Bytes that a program beside this one reads, any range of them. */
export interface ServedBytes {
  /** An address for each, in their order. */
  readonly urls: readonly string[];
  close(): void;
}

/**
 * Lets programs on this machine read bytes that lie in archives, as if they were files: by HTTP with ranges (RFC 9110, section 14), on loopback, under an address that nobody can guess.
 */
export async function serveBytes(refs: readonly BytesRef[]): Promise<ServedBytes> {
  const secret = randomBytes(18).toString('base64url');
  const server = http.createServer((request, response) => {
    const [, own, number] = (request.url ?? '').split('/');
    const ref = own === secret ? refs[Number(number)] : undefined;
    if (!ref || (request.method !== 'GET' && request.method !== 'HEAD')) {
      response.writeHead(404).end();
      return;
    }
    const asked = request.headers.range;
    const found = asked === undefined ? undefined : parseRange(ref.length, asked);
    if (found === -1) {
      response.writeHead(416, { 'content-range': `bytes */${ref.length}` }).end();
      return;
    }
    const range = typeof found === 'object' && found.length === 1 ? found[0] : undefined;
    const { start, end } = range ?? { start: 0, end: ref.length - 1 };
    response.writeHead(range ? 206 : 200, {
      ...{ 'accept-ranges': 'bytes', 'content-length': String(end - start + 1) },
      ...(range && { 'content-range': `bytes ${start}-${end}/${ref.length}` }),
    });
    if (request.method === 'HEAD') response.end();
    else send(sliceOf(ref, start, end - start + 1), response);
  });
  server.keepAliveTimeout = 1000;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', resolve);
  });
  server.unref();
  const { port } = server.address() as AddressInfo;
  return {
    urls: refs.map((_ref, i) => `http://127.0.0.1:${port}/${secret}/${i}`),
    close() {
      server.close();
      server.closeAllConnections();
    },
  };
}

/** Chunks are valid until the next one is asked for, so that each is copied; whoever reads slowly holds it up. */
function* copies(ref: BytesRef): Generator<Uint8Array> {
  for (const chunk of ref.chunks()) yield chunk.slice();
}

function send(ref: BytesRef, response: http.ServerResponse): void {
  const stream = Readable.from(copies(ref), { objectMode: false, highWaterMark: 1 << 20 });
  // Who reads a broken stream gets less than was announced, and says so.
  stream.once('error', () => response.destroy());
  response.once('close', () => stream.destroy());
  stream.pipe(response);
}
