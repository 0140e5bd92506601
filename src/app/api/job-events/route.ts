import { refusedCall } from '@/app/api/guard';
import { findJob, jobEvents } from '@/server/jobs';

export const dynamic = 'force-dynamic';

const BEAT_MS = 15_000;

/** Server-sent events: each job as it moves, and whether the database is there. */
export function GET(request: Request): Response {
  const refused = refusedCall(request);
  if (refused !== undefined) return Response.json({ error: refused.message }, { status: refused.status });
  const events = jobEvents();
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string): void => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const onJob = (id: string): void => {
        findJob(id).then(
          (job) => send(`event: job\ndata: ${JSON.stringify(job)}\n\n`),
          () => undefined,
        );
      };
      const onLost = (): void => send('event: lost\ndata: {}\n\n');
      const onBack = (): void => send('event: back\ndata: {}\n\n');
      const beat = setInterval(() => send(': beat\n\n'), BEAT_MS);
      function stop(): void {
        clearInterval(beat);
        events.off('job', onJob).off('lost', onLost).off('back', onBack);
      }
      events.on('job', onJob).on('lost', onLost).on('back', onBack);
      request.signal.addEventListener('abort', () => {
        stop();
        try {
          controller.close();
        } catch {
          // The browser has closed it already.
        }
      });
      send(': hello\n\n');
    },
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
  });
}
