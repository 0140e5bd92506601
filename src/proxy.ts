import { NextResponse, type NextRequest } from 'next/server';

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

const refused = (message: string): NextResponse => NextResponse.json({ error: message }, { status: 403 });

export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get('host') ?? '';
  if (!LOOPBACK.test(host) && !allowedHosts().includes(host))
    return refused(
      `This address, ${host}, is not one that the application answers to. Open the one that bin/start prints.`,
    );
  const site = request.headers.get('sec-fetch-site');
  const changes = request.method !== 'GET' && request.method !== 'HEAD';
  if (request.nextUrl.pathname.startsWith('/api/')) {
    if (site === 'cross-site') return refused('Requests from other sites are refused.');
    if (changes && !sameOrigin(request.headers.get('origin'), host))
      return refused('Changes are only taken from the application’s own pages.');
  }
  return NextResponse.next({
    headers: {
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'same-origin',
      'x-frame-options': 'SAMEORIGIN',
    },
  });
}

function sameOrigin(origin: string | null, host: string): boolean {
  if (origin === null) return false;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

export const config = { matcher: '/((?!_next/static|_next/image).*)' };
