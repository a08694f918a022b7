import type { NextConfig } from 'next';

const config: NextConfig = {
  // Packages that load files of their own at run time stay outside the bundle.
  serverExternalPackages: ['sequelize', 'mysql2', 'umzug', 'gltf-validator', 'pino'],
  poweredByHeader: false,
  // ./test checks the types, of everything; whoever only starts Yarvo need not wait for that.
  typescript: { ignoreBuildErrors: true },
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'x-content-type-options', value: 'nosniff' },
          { key: 'referrer-policy', value: 'no-referrer' },
          { key: 'x-frame-options', value: 'DENY' },
        ],
      },
    ]),
};

export default config;
