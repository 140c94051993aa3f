import type { NextConfig } from 'next'

const config: NextConfig = {
  // Two origins of the same server; the development server has to allow the second.
  allowedDevOrigins: ['*.localhost'],
  devIndicators: false,
  poweredByHeader: false,
  reactStrictMode: true,
}

export default config
