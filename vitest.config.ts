import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const alias = { '@': fileURLToPath(new URL('./src', import.meta.url)) }

const UNITS = ['src/**/*.test.{ts,tsx}', 'tests/unit/**/*.test.ts']
/** These put another module in the place of one of ours, which must not be loaded before. */
const WITH_MOCKS = ['edits-in-memory', 'edits-by-kind', 'saving-watch', 'selection-in-memory', 'structure-in-memory'].map(
  (name) => `tests/unit/${name}.test.ts`,
)

const SETUP = ['fake-indexeddb/auto', 'tests/support/fixed-seed.ts', 'tests/support/all-languages.ts']

const units = {
  environment: 'node',
  setupFiles: SETUP,
  testTimeout: 120_000,
} as const

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
        // Modules are loaded once for all files of a worker: to load them for each takes as long as the tests.
        test: { name: 'unit', include: UNITS, exclude: WITH_MOCKS, isolate: false, ...units },
      },
      { resolve: { alias }, test: { name: 'unit-with-mocks', include: WITH_MOCKS, ...units } },
      { resolve: { alias }, test: { name: 'stories', include: ['tests/stories/**/*.test.ts'], ...inBrowsers } },
      {
        resolve: { alias },
        test: {
          name: 'slow',
          include: ['tests/slow/**/*.test.ts'],
          setupFiles: SETUP,
          ...inBrowsers,
          // Some go through a whole proof, on a machine that others may use at the time.
          testTimeout: 300_000,
        },
      },
    ],
  },
})
