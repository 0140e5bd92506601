import { serveRequests } from '@/platform/node/threads/serve';
import type { HashRequests } from '@/server/building/hash-beside';
import { hashFile, hashPieces } from '@/server/building/hash-file';

/** Hashes files beside whoever writes or proves meanwhile. */
serveRequests<HashRequests>({
  hash: ({ file, pieces }) => (pieces ? hashPieces(file, pieces) : hashFile(file)),
});
