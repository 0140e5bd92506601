import { fromBufferPromise } from 'yauzl';
import { FormatError } from '@/core/bytes';

const MOST_FILES = 2000;
const MOST_BYTES = 256 << 20;

/** All files of a ZIP held in memory, by their paths; throws FormatError where it is damaged, or holds more than is taken. */
export async function unzipAll(bytes: Uint8Array, name: string): Promise<Map<string, Uint8Array>> {
  const whole = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
  const files = new Map<string, Uint8Array>();
  let total = 0;
  try {
    const zip = await fromBufferPromise(whole, { lazyEntries: true });
    if (zip.entryCount > MOST_FILES) throw tooMuch(name, `${MOST_FILES} files`, `${zip.entryCount}`);
    for await (const entry of zip.eachEntry()) {
      if (entry.fileName.endsWith('/')) continue;
      const parts: Buffer[] = [];
      for await (const part of await zip.openReadStreamPromise(entry)) {
        // What a head says is a claim; the bytes count.
        total += (part as Buffer).length;
        if (total > MOST_BYTES) throw tooMuch(name, `${MOST_BYTES} bytes in all`, 'more');
        parts.push(part as Buffer);
      }
      files.set(entry.fileName, new Uint8Array(Buffer.concat(parts)));
    }
  } catch (error) {
    if (error instanceof FormatError) throw error;
    const why = error instanceof Error ? error.message : String(error);
    throw new FormatError('bad-value', {
      file: name,
      expected: 'a ZIP file that is whole',
      why,
      remedy: 'Save it again',
    });
  }
  return files;
}

const tooMuch = (file: string, most: string, actual: string): FormatError =>
  new FormatError('budget', { file, expected: `at most ${most}`, actual, remedy: 'Give the model alone' });
