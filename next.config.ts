import type { NextConfig } from 'next';

const config: NextConfig = {
  compiler: { styledComponents: true },
  serverExternalPackages: ['sequelize', 'pg-boss'],
  poweredByHeader: false,
  // Everything stays on this machine: packing would cost time and save none.
  compress: false,
  devIndicators: false,
  // The framework cuts what passes the proxy after 10 MB unless told otherwise: a little over the
  // largest body of the API.
  experimental: { proxyClientMaxBodySize: '33mb' },
  // What pages may load and run is said by `src/proxy.ts`, anew for each answer.
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
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
