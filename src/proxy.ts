import { NextResponse, type NextRequest } from 'next/server';

const loopbackNames = new Set(['127.0.0.1', 'localhost', '[::1]']);

/** Only names of this machine: a foreign page, or a foreign name that was made to point here, gets nothing. */
function isLoopback(host: string): boolean {
  return loopbackNames.has(host.replace(/:\d+$/, ''));
}

/** Refuses requests whose Host or Origin is not this application on loopback. */
export function proxy(request: NextRequest) {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  const isOwnOrigin = origin === null || (URL.canParse(origin) && new URL(origin).host === host);
  if (isLoopback(host) && isOwnOrigin) return NextResponse.next();
  return new NextResponse('Refused: this address serves only pages of this machine.\n', {
    status: 403,
  });
}
