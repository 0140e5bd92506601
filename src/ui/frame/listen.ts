import type { JobView } from '@/server/running/jobs';

export interface Heard {
  job(job: JobView): void;
  /** Lines of a mod were changed, by whomever. */
  desk(mod: number): void;
  /** Something does not answer; the text says what and what to do. */
  away(why: string): void;
  /** It answers again; what happened meanwhile was not heard. */
  back(): void;
}

/** A browser tries again by itself, but for an answer that is none; so we do then. */
const AGAIN_MS = 5000;

/** Listens to what the server tells, for as long as the page is open. Gives a function that ends it. */
export function listen(heard: Heard): () => void {
  let source: EventSource | undefined;
  let again: ReturnType<typeof setTimeout> | undefined;
  let isAway = false;
  const away = (why: string): void => {
    isAway = true;
    heard.away(why);
  };
  const here = (): void => {
    if (isAway) heard.back();
    isAway = false;
  };
  const open = (): void => {
    const own = new EventSource('/api/job-events');
    source = own;
    own.addEventListener('job', (event: MessageEvent<string>) =>
      heard.job(JSON.parse(event.data) as JobView),
    );
    own.addEventListener('desk', (event: MessageEvent<string>) =>
      heard.desk((JSON.parse(event.data) as { mod: number }).mod),
    );
    own.addEventListener('lost', () =>
      away('The database does not answer. Nothing is lost; this page goes on by itself once it is back.'),
    );
    own.addEventListener('back', () => {
      isAway = true;
      here();
    });
    own.addEventListener('open', here);
    own.addEventListener('error', () => {
      away('The application does not answer. Is bin/start still running?');
      if (own.readyState !== EventSource.CLOSED) return;
      void whyRefused().then((why) => {
        if (why !== undefined) away(why);
        again = setTimeout(open, AGAIN_MS);
      });
    });
  };
  open();
  return () => {
    clearTimeout(again);
    source?.close();
  };
}

/** What the server says to a page that it does not listen to, such as one of an earlier start. */
async function whyRefused(): Promise<string | undefined> {
  try {
    const answer = await fetch('/api/health');
    return answer.ok ? undefined : ((await answer.json()) as { error?: string }).error;
  } catch {
    return undefined;
  }
}
