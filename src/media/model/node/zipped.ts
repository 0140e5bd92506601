import { buffer } from 'node:stream/consumers';
import yazl from 'yazl';

/** Some files as a ZIP that is the same whenever it is made. */
export function zipped(
  files: readonly { readonly path: string; readonly bytes: Uint8Array }[],
): Promise<Uint8Array> {
  const zip = new yazl.ZipFile();
  for (const { path, bytes } of files)
    zip.addBuffer(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), path, {
      mtime: new Date(0),
    });
  zip.end();
  return buffer(zip.outputStream);
}
