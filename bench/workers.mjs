#!/usr/bin/env node
// Whether workers would pay for MDX, the slowest of all parts: the bare compiler alone, in two workers, and here beside one.
//
//   node bench/workers.mjs <corpus of MDX> [rounds=3]
//
// Texts go in and code comes back as strings. The last line is a JSON record of medians in milliseconds.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { isMainThread, parentPort, Worker } from 'node:worker_threads'
import { createProcessor } from '@mdx-js/mdx'
import remarkGfm from 'remark-gfm'
import { median } from './record.mjs'

function createCompiler() {
  const processor = createProcessor({ format: 'mdx', outputFormat: 'function-body', remarkPlugins: [remarkGfm] })
  return async (text) => String(await processor.process(text))
}

/** Gives a worker text after text, as long as there are any. */
function employ(take) {
  const worker = new Worker(new URL(import.meta.url))
  return new Promise((resolve) => {
    worker.on('message', () => {
      const text = take()
      if (text !== undefined) return worker.postMessage(text)
      void worker.terminate()
      resolve()
    })
  })
}

async function compareAll(texts, rounds) {
  const ways = {
    async alone(take) {
      const compile = createCompiler()
      for (let text = take(); text !== undefined; text = take()) await compile(text)
    },
    twoWorkers: (take) => Promise.all([employ(take), employ(take)]),
    besideOne: (take) => Promise.all([ways.alone(take), employ(take)]),
  }
  const times = Object.fromEntries(Object.keys(ways).map((name) => [name, []]))
  for (let round = 0; round < rounds; round++)
    for (const [name, work] of Object.entries(ways)) {
      let next = 0
      const started = performance.now()
      await work(() => texts[next++])
      times[name].push(performance.now() - started)
    }
  return Object.fromEntries(Object.entries(times).map(([name, own]) => [name, Math.round(median(own))]))
}

if (isMainThread) {
  const [corpus = '.', rounds = '3'] = process.argv.slice(2)
  const files = readdirSync(corpus, { recursive: true }).filter((file) => file.endsWith('.mdx'))
  const texts = files.map((file) => readFileSync(join(corpus, file), 'utf8').replace(/^---[\s\S]*?\n---\n/, ''))
  console.log(JSON.stringify({ files: texts.length, ...(await compareAll(texts, Number(rounds))) }))
} else {
  const compile = createCompiler()
  parentPort.on('message', async (text) => parentPort.postMessage(await compile(text)))
  parentPort.postMessage('ready')
}
