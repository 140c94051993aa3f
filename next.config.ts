import type { NextConfig } from 'next'

const config: NextConfig = {
  devIndicators: false,
  poweredByHeader: false,
  reactStrictMode: true,
  // `npm test` checks the types once, for everything.
  typescript: { ignoreBuildErrors: true },
}

export default config
