import { timingSafeEqual } from 'node:crypto';

/**
 * The application answers on this machine only, and there only to whoever was given its address. A page from elsewhere that makes the
 * browser call it, by its address or by a name that was turned to point here, is refused: Host must be ours, and what changes something
 * must come from our own pages. Another user of the machine is refused too: each start has a secret, which the printed address carries
 * and a cookie keeps; commands show one of their own.
 */
const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/** What a request may ask with; the answer to one that may not. */
export interface Refusal {
  readonly status: 401 | 403;
  readonly message: string;
}

/** The word of an address that carries the secret of a start. */
export const ENTER = 'enter';

export const STRANGER =
  'This address is open only to those who were given it. Open the one that bin/start printed; it ends in a word of its own, which changes with each start. bin/start prints it again when it runs already.';

function allowedHosts(): string[] {
  return (process.env.ZERO_LATCH_HOSTS ?? '')
    .split(',')
    .map((host) => host.trim())
    .filter(Boolean);
}

/** Why a request to this host is not answered; undefined where it is. */
export function refusedHost(request: Request): string | undefined {
  const host = request.headers.get('host') ?? '';
  return LOOPBACK.test(host) || allowedHosts().includes(host)
    ? undefined
    : `This address, ${host}, is not one that the application answers to. Open the one that bin/start prints.`;
}

/** Cookies are shared by all ports of a host, so that each application has one by its own name. */
export const cookieName = (request: Request): string =>
  `zero-latch-${/:(\d+)$/.exec(request.headers.get('host') ?? '')?.[1] ?? '80'}`;

/** Whether what was shown is a secret of this start; in the same time whatever it is. Without a secret nothing is. */
function isSecret(shown: string | undefined, secret: string | undefined): boolean {
  if (!shown || !secret) return false;
  const [one, other] = [Buffer.from(shown), Buffer.from(secret)];
  return one.length === other.length && timingSafeEqual(one, other);
}

/** Whether an address carries the secret of this start. */
export const isEntering = (shown: string | null): boolean =>
  isSecret(shown ?? undefined, process.env.ZERO_LATCH_SECRET);

/** Whether a request comes from whoever opened the printed address, or from a command of ours. */
export function isKnown(request: Request): boolean {
  const cookies = (request.headers.get('cookie') ?? '').split(/;\s*/);
  const name = `${cookieName(request)}=`;
  const kept = cookies.find((cookie) => cookie.startsWith(name))?.slice(name.length);
  const shown = /^Bearer (\S+)$/.exec(request.headers.get('authorization') ?? '')?.[1];
  return isSecret(kept, process.env.ZERO_LATCH_SECRET) || isSecret(shown, process.env.ZERO_LATCH_TOOL_SECRET);
}

/** Why a request to the application's interface is refused; undefined where it is not. */
export function refusedCall(request: Request): Refusal | undefined {
  const no = (message: string): Refusal => ({ status: 403, message });
  const wrongHost = refusedHost(request);
  if (wrongHost !== undefined) return no(wrongHost);
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return no('Requests from other sites are refused.');
  if (!isKnown(request)) return { status: 401, message: STRANGER };
  const changes = request.method !== 'GET' && request.method !== 'HEAD';
  const host = request.headers.get('host') ?? '';
  return changes && !isSameOrigin(request.headers.get('origin'), host)
    ? no('Changes are only taken from the application’s own pages.')
    : undefined;
}

function isSameOrigin(origin: string | null, host: string): boolean {
  if (origin === null) return false;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}
