import { create } from 'content-disposition';

/** What was made of an entry, as a file to keep; `stem` is its name without ending. */
export const keptFile = (
  stem: string,
  { bytes, ending }: { readonly bytes: Uint8Array; readonly ending: string },
): Response =>
  new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': ending === 'zip' ? 'application/zip' : 'application/octet-stream',
      'content-disposition': create(`${stem}.${ending}`),
      'cache-control': 'no-store',
    },
  });
