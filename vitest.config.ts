import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['packages/*/test/**/*.test.ts', 'examples/*/test/**/*.test.ts'],
    globalSetup: ['scripts/build-first.mjs'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
})
