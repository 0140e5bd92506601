import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { checkRange, type ByteSource } from '@/core/bytes';
import type { Spool } from '@/core/primitives';
import { writeFully } from './file-sink';

/**
 * A temporary file without a name: it is unlinked as soon as it is open, so that nothing stays behind
 * however the process ends.
 */
export function createSpool(): Spool {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-'));
  const file = path.join(folder, 'spool');
  const fd = fs.openSync(file, 'wx+');
  fs.rmSync(folder, { recursive: true });
  let length = 0;
  const source: ByteSource = {
    name: 'spool',
    get length() {
      return length;
    },
    read(offset, wanted) {
      checkRange('spool', length, offset, wanted);
      const bytes = new Uint8Array(wanted);
      for (let got = 0; got < wanted;) got += fs.readSync(fd, bytes, got, wanted - got, offset + got);
      return bytes;
    },
  };
  return {
    source,
    write(bytes) {
      writeFully(fd, bytes);
      length += bytes.length;
    },
    discard: () => fs.closeSync(fd),
  };
}
