/**
 * The application answers on this machine only. A page from elsewhere that makes the browser call it, by
 * its address or by a name that was turned to point here, is refused: Host must be ours, and what changes
 * something must come from our own pages.
 */
const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

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

/** Why a request to the application's interface is refused; undefined where it is not. */
export function refusedCall(request: Request): string | undefined {
  const wrongHost = refusedHost(request);
  if (wrongHost !== undefined) return wrongHost;
  if (request.headers.get('sec-fetch-site') === 'cross-site') return 'Requests from other sites are refused.';
  const changes = request.method !== 'GET' && request.method !== 'HEAD';
  const host = request.headers.get('host') ?? '';
  return changes && !isSameOrigin(request.headers.get('origin'), host)
    ? 'Changes are only taken from the application’s own pages.'
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
