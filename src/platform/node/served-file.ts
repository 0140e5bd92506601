import { refOfSpan } from '@/core/bytes';
import { serveBytes } from './byte-server';
import { openFileSource } from './file-source';

/** Lends a file that was made here to a program that reads from addresses, until `use` is done. */
export async function servedFile<T>(
  file: string,
  use: (url: string, bytes: number) => Promise<T>,
): Promise<T> {
  const source = openFileSource(file, 'what was made');
  const served = await serveBytes([refOfSpan(source, 0, source.length)]);
  try {
    return await use(served.urls[0]!, source.length);
  } finally {
    served.close();
    source.close();
  }
}
