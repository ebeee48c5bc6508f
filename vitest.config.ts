import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['packages/*/test/**/*.test.ts', 'examples/*/test/**/*.test.ts'],
    globalSetup: ['scripts/build-first.mjs'],
    // Half of the time tests wait for browsers and for files to be noticed.
    maxWorkers: 2,
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
})
