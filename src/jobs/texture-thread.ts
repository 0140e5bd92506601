import { serveRequests } from '@/platform/node/threads/serve';
import { TEXTURE_ANSWERS, type TextureRequests } from '@/server/looking/texture-threads';

/** Encodes strips of pictures, and looks for pictures in other bytes, beside the server. */
serveRequests<TextureRequests>(TEXTURE_ANSWERS, (gives) =>
  gives instanceof Uint8Array && gives.buffer instanceof ArrayBuffer ? [gives.buffer] : [],
);
