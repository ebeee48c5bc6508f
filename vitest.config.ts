import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['packages/*/test/**/*.test.ts', 'examples/*/test/**/*.test.ts'],
    globalSetup: ['scripts/build-first.mjs'],
    setupFiles: ['scripts/limit-properties.mjs'],
    // The built package is what users load: Node loads it as it is, which takes a third of the time that Vitest's own loader takes.
    server: { deps: { external: [/zinc-pantry\/dist\//] } },
    // What a file of tests loads, the next one uses: to load it again takes as long as most files.
    isolate: false,
    // Half of the time goes into waiting for other processes, browsers among them, so that two cores are worth two workers.
    maxWorkers: 2,
    // Properties that run as often as PANTRY_THOROUGH lets them end by themselves.
    testTimeout: process.env.PANTRY_THOROUGH ? 7_200_000 : 120_000,
    hookTimeout: 120_000,
    expect: { poll: { timeout: 20_000 } },
  },
})
