import type { NextConfig } from 'next';

const config: NextConfig = {
  turbopack: { root: import.meta.dirname },
  poweredByHeader: false,
  reactStrictMode: true,
  distDir: process.env.SAMPAN_DIST ?? '.next',
  // Types are checked by `npm test` once; the build need not do it again.
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
};

export default config;
