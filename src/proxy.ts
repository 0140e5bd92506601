import { NextResponse, type NextRequest } from 'next/server';
import { refusedHost } from './app/api/guard';

/**
 * Pages are only given to addresses that are ours. The interface below `/api/` checks each request itself (`route`): what goes
 * through here is held in memory and cut off at some length, which no file that is uploaded may be.
 */
export function proxy(request: NextRequest): NextResponse {
  const refused = refusedHost(request);
  return refused === undefined ? NextResponse.next() : NextResponse.json({ error: refused }, { status: 403 });
}

export const config = { matcher: '/((?!_next/static|_next/image|api/).*)' };
