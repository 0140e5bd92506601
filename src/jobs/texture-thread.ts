import { parentPort } from 'node:worker_threads';
import { encodeStrip, type ToTextureThread } from '@/server/texture-threads';

/** Encodes strips of pictures beside the server. */
parentPort?.on('message', (message: ToTextureThread) => {
  const answer = encodeStrip(message);
  parentPort!.postMessage(answer, 'blocks' in answer ? [answer.blocks.buffer as ArrayBuffer] : []);
});
