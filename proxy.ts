import { NextResponse, type NextRequest } from 'next/server';
import { requireOwnOrigin } from '@/server/http/guard';
import { problemResponse } from '@/server/http/problem';

/** Refuses foreign hosts and origins before anything else is done. */
export function proxy(request: NextRequest): Response {
  try {
    requireOwnOrigin(request.headers);
    return NextResponse.next();
  } catch (error) {
    return problemResponse(error);
  }
}

// The handlers under api/ check for themselves: it would be done twice, and bodies of uploads would be cut at 10 MB.
export const config = { matcher: ['/((?!api/).*)'] };
