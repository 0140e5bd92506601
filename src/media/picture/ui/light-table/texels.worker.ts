import { histogram } from '@/media/picture/core/texture/histogram';
import type { FromTexelWorker, ToTexelWorker } from './texel-messages';

/** Fetches texels and counts them, so that the page does not stand still meanwhile. */
async function answer({ id, url }: ToTexelWorker): Promise<FromTexelWorker> {
  try {
    const response = await fetch(url);
    if (!response.ok) {
      const told = (await response.json().catch(() => ({}))) as { error?: string };
      return { id, error: told.error ?? `the server answers ${response.status}` };
    }
    const facts = JSON.parse(decodeURIComponent(response.headers.get('x-texels') ?? '{}')) as never;
    const data = new Uint8Array(await response.arrayBuffer());
    const { width, height } = (facts as { at: { width: number; height: number } }).at;
    return { id, facts, data, counts: histogram({ width, height, data }) };
  } catch (error) {
    return { id, error: error instanceof Error ? error.message : String(error) };
  }
}

self.addEventListener('message', (event: MessageEvent<ToTexelWorker>) => {
  void answer(event.data).then((message) => {
    const moved = 'data' in message ? [message.data.buffer as ArrayBuffer] : [];
    self.postMessage(message, { transfer: moved });
  });
});
