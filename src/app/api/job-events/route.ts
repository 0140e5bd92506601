import { refusedCall } from '@/app/api/guard';
import { deskEvents } from '@/server/desk/live';
import { jobEvents, onJobViews, type JobView } from '@/server/running/jobs';

export const dynamic = 'force-dynamic';

const BEAT_MS = 15_000;
/** Each page has one; more are a mistake, or meant to do harm. */
const MOST_STREAMS = 200;
let streams = 0;

/** Server-sent events: each job as it moves, what changes on text desks, and whether the database is there. */
export function GET(request: Request): Response {
  const refused = refusedCall(request);
  if (refused !== undefined) return Response.json({ error: refused.message }, { status: refused.status });
  if (streams >= MOST_STREAMS)
    return Response.json(
      { error: `${streams} pages listen already. Close some, then reload this one.` },
      { status: 503 },
    );
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
      const onJob = (job: JobView): void => send(`event: job\ndata: ${JSON.stringify(job)}\n\n`);
      const onLost = (): void => send('event: lost\ndata: {}\n\n');
      const onBack = (): void => send('event: back\ndata: {}\n\n');
      const onDesk = (mod: number): void => send(`event: desk\ndata: ${JSON.stringify({ mod })}\n\n`);
      const beat = setInterval(() => send(': beat\n\n'), BEAT_MS);
      let isOver = false;
      function stop(): void {
        if (isOver) return;
        isOver = true;
        clearInterval(beat);
        streams--;
        offJobs();
        deskEvents().off('changed', onDesk);
        events.off('lost', onLost).off('back', onBack);
      }
      streams++;
      const offJobs = onJobViews(onJob);
      deskEvents().on('changed', onDesk);
      events.on('lost', onLost).on('back', onBack);
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
