import type { NextConfig } from 'next';

const contentSecurityPolicy = [
  "default-src 'self'",
  // Next.js hydrates through inline scripts and styled-components through inline styles.
  // The solver's workers compile machine code for each topology (wasm-unsafe-eval allows that and no more).
  "script-src 'self' 'unsafe-inline' 'wasm-unsafe-eval'" +
    (process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : ''),
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "font-src 'self'",
  "connect-src 'self'",
  "worker-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'self'",
  "frame-ancestors 'none'",
].join('; ');

const config: NextConfig = {
  compiler: { styledComponents: true },
  serverExternalPackages: ['sequelize', 'pg-boss'],
  poweredByHeader: false,
  devIndicators: false,
  // The framework cuts what passes the proxy after 10 MB unless told otherwise: a little over the largest body of the API.
  experimental: { proxyClientMaxBodySize: '33mb' },
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'Content-Security-Policy', value: contentSecurityPolicy },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
          { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
        ],
      },
    ]),
};

export default config;
