#!/usr/bin/env node
import module from 'node:module'

// From 22.8 on Node keeps code as it compiled it, a quarter of the time of a short command; before it is loaded somebody must ask for it.
module.enableCompileCache?.()
const { askAtTerminal } = await import('../dist/bundle/ask.js')
const { run } = await import('../dist/bundle/cli.js')
const { createNodeHost } = await import('../dist/bundle/host.js')

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
  // Of a site this large the memory would be more than many machines have.
  openHost: (folder) => createNodeHost(folder, { thriftyAfterBytes: 200 * 2 ** 20 }),
})
