#!/usr/bin/env node
import { askAtTerminal } from '../dist/bundle/ask.js'
import { run } from '../dist/bundle/cli.js'
import { createNodeHost } from '../dist/bundle/host.js'

// A reader that has seen enough, such as `head`, closes the pipe; that is no failure.
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error
  process.exit()
})

const { stdin, stdout, stderr, env } = process
process.exitCode = await run(process.argv.slice(2), {
  stdout,
  stderr,
  env,
  folder: process.cwd(),
  stopped: () =>
    new Promise((resolve) => {
      for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, resolve)
    }),
  ask: stdin.isTTY && stdout.isTTY ? askAtTerminal : undefined,
  streams: { input: stdin, output: stdout },
  openHost: createNodeHost,
})
