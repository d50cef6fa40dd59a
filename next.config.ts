import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  // Published files and uploads are answered by the gateway before Next sees them; pages are small.
  compress: true,
  typescript: { ignoreBuildErrors: true }, // `./yurta test` type-checks the whole tree on its own
  serverExternalPackages: ['pg', 'pg-boss', 'pdfkit', 'sharp', 'web-ifc', 'better-auth', 'pino'],
  devIndicators: false,
};

export default config;
