/** @type {import('next').NextConfig} */
export default {
  devIndicators: false,
  poweredByHeader: false,
  reactStrictMode: true,
  // `npm test` checks the types once, for everything.
  typescript: { ignoreBuildErrors: true },
}
