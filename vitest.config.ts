import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const alias = { '@': fileURLToPath(new URL('./src', import.meta.url)) }

const inBrowsers = {
  environment: 'node',
  globalSetup: 'tests/support/global-setup.ts',
  testTimeout: 120_000,
  hookTimeout: 180_000,
} as const

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          include: ['src/**/*.test.{ts,tsx}', 'tests/unit/**/*.test.ts'],
          environment: 'node',
          setupFiles: 'tests/support/fixed-seed.ts',
          testTimeout: 120_000,
        },
      },
      { resolve: { alias }, test: { name: 'stories', include: ['tests/stories/**/*.test.ts'], ...inBrowsers } },
      {
        resolve: { alias },
        test: { name: 'slow', include: ['tests/slow/**/*.test.ts'], setupFiles: 'tests/support/fixed-seed.ts', ...inBrowsers },
      },
    ],
  },
})
