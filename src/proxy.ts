import { NextResponse, type NextRequest } from 'next/server';

const loopbackNames = new Set(['127.0.0.1', 'localhost', '[::1]']);

/**
 * Only names of this machine: a foreign page, or a foreign name that was made to point here, gets
 * nothing.
 */
function isLoopback(host: string): boolean {
  return loopbackNames.has(host.replace(/:\d+$/, '').toLowerCase());
}

/** Where a request comes from, as far as it says. */
function isOwn(request: NextRequest, host: string): boolean {
  const origin = request.headers.get('origin');
  if (origin !== null && !(URL.canParse(origin) && new URL(origin).host === host.toLowerCase()))
    return false;
  // A link to a page may be followed from anywhere; what answers with data or changes some may not
  // be asked from there.
  const site = request.headers.get('sec-fetch-site');
  const isNavigation =
    request.method === 'GET' && request.headers.get('sec-fetch-mode') === 'navigate';
  return site === null || site === 'same-origin' || site === 'none' || isNavigation;
}

/**
 * Scripts are ours, or carry the nonce of this very answer. The solver's workers compile machine
 * code for each topology (wasm-unsafe-eval allows that and no more); styled-components writes
 * styles into the page.
 */
const policyWith = (nonce: string): string =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'` +
      (process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : ''),
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');

/** Refuses requests from elsewhere, and says what pages may load and run. */
export function proxy(request: NextRequest) {
  const host = request.headers.get('host') ?? '';
  if (!isLoopback(host) || !isOwn(request, host))
    return new NextResponse('Refused: this address serves only pages of this machine.\n', {
      status: 403,
    });
  const nonce = Buffer.from(crypto.randomUUID()).toString('base64');
  const policy = policyWith(nonce);
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  // The framework reads the nonce for its own scripts from here.
  headers.set('Content-Security-Policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('Content-Security-Policy', policy);
  return response;
}
