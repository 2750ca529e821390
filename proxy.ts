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

// Uploads stay out, or their bodies would be cut at 10 MB; their handlers check for themselves.
export const config = {
  matcher: ['/((?!api/projects/[^/]+/shots|api/shots/[^/]+/depth/import|api/shots/[^/]+/plates/import).*)'],
};
