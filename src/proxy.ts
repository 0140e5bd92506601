import { randomBytes } from 'node:crypto';
import { NextResponse, type NextRequest } from 'next/server';
import { cookieName, ENTER, isEntering, isKnown, refusedHost } from './app/api/guard';
import { pagePolicy, SAFE_HEADERS } from './app/api/headers';
import { strangerPage } from './app/api/stranger-page';

/**
 * Pages are only given to addresses that are ours, and to those who opened the address that was printed. The interface below `/api/`
 * checks each request itself (`route`): what goes through here is held in memory and cut off at some length, which no file that is
 * uploaded may be.
 */
export function proxy(request: NextRequest): NextResponse {
  const refused = refusedHost(request);
  if (refused !== undefined)
    return NextResponse.json({ error: refused }, { status: 403, headers: SAFE_HEADERS });
  if (isEntering(request.nextUrl.searchParams.get(ENTER))) return entered(request);
  if (!isKnown(request))
    return new NextResponse(strangerPage(), {
      status: 401,
      headers: {
        ...SAFE_HEADERS,
        'content-type': 'text/html; charset=utf-8',
        'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'",
        'cache-control': 'no-store',
      },
    });
  const policy = pagePolicy(randomBytes(16).toString('base64'));
  const headers = new Headers(request.headers);
  // Read by Next.js, which puts the nonce into the scripts of the page.
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

/** Keeps the secret in a cookie and goes on without it in the address, where it would stay in the browser's history. */
function entered(request: NextRequest): NextResponse {
  const url = request.nextUrl.clone();
  const secret = url.searchParams.get(ENTER)!;
  url.searchParams.delete(ENTER);
  // By the name that was asked for: the server may know itself by another one, and cookies belong to a name.
  url.host = request.headers.get('host') ?? url.host;
  const response = new NextResponse(null, {
    status: 303,
    headers: { ...SAFE_HEADERS, location: url.href, 'cache-control': 'no-store' },
  });
  response.cookies.set(cookieName(request), secret, { httpOnly: true, sameSite: 'strict', path: '/' });
  return response;
}

export const config = { matcher: '/((?!api/).*)' };
