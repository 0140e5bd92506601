import { create } from 'content-disposition';
import { fileStem } from '@/core/kinds';

/** What was made of an entry, as a file to keep. */
export const keptFile = (
  name: string,
  { bytes, ending }: { readonly bytes: Uint8Array; readonly ending: string },
): Response =>
  new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': ending === 'zip' ? 'application/zip' : 'application/octet-stream',
      'content-disposition': create(`${fileStem(name)}.${ending}`),
      'cache-control': 'no-store',
    },
  });
