import { fromBuffer } from 'yauzl';
import { FormatError } from '@/core/bytes';

const MOST_BYTES = 256 << 20;

/** One file of a ZIP held in memory; throws FormatError where it is not there or is damaged. */
export function unzipOne(bytes: Uint8Array, wanted: string, name: string): Promise<Uint8Array> {
  return new Promise((resolve, reject) => {
    const fail = (expected: string, actual: string): void =>
      reject(new FormatError('bad-value', { file: name, expected, actual, remedy: 'Save it again' }));
    fromBuffer(
      Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length),
      { lazyEntries: true },
      (problem, zip) => {
        if (problem) return fail('a ZIP file', problem.message);
        zip.on('error', (error: Error) => fail('a ZIP file', error.message));
        zip.on('end', () => fail(`a file ${wanted} in it`, 'none'));
        zip.on('entry', (entry: { fileName: string; uncompressedSize: number }) => {
          if (entry.fileName !== wanted) return zip.readEntry();
          if (entry.uncompressedSize > MOST_BYTES)
            return fail(`at most ${MOST_BYTES} bytes`, `${entry.uncompressedSize}`);
          zip.openReadStream(entry as never, (error, stream) => {
            if (error) return fail(`${wanted} in it`, error.message);
            const parts: Buffer[] = [];
            stream.on('data', (part: Buffer) => parts.push(part));
            stream.on('error', (broken: Error) => fail(`${wanted} whole`, broken.message));
            stream.on('end', () => resolve(new Uint8Array(Buffer.concat(parts))));
          });
        });
        zip.readEntry();
      },
    );
  });
}
