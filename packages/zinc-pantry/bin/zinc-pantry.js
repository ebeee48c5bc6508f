#!/usr/bin/env node
import { run } from '../dist/cli/run.js'
import { createNodeHost } from '../dist/host/node-host.js'

// A reader that has seen enough, such as `head`, closes the pipe; that is no failure.
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error
  process.exit()
})

const { stdout, stderr, env } = process
process.exitCode = await run(process.argv.slice(2), {
  stdout,
  stderr,
  env,
  folder: process.cwd(),
  stopped: () =>
    new Promise((resolve) => {
      for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, resolve)
    }),
  openHost: createNodeHost,
})
