import { parentPort } from 'node:worker_threads';
import { answerFor, type ToTextureThread } from '@/server/looking/texture-threads';

/** Encodes strips of pictures, and looks for pictures in other bytes, beside the server. */
parentPort?.on('message', (message: ToTextureThread) => {
  const answer = answerFor(message);
  parentPort!.postMessage(answer, 'blocks' in answer ? [answer.blocks.buffer as ArrayBuffer] : []);
});
