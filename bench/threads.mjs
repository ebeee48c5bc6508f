#!/usr/bin/env node
// What other threads bring that render bodies: builds with none, with one and with two on this machine, and a model of what more cores
// bring, from the shares of one build: what only the first thread does, what it does while others render, and what they do.
//
//   node bench/threads.mjs <corpus of Markdown or MDX> [md|mdx] [rounds=5]
//
// Wall time, medians, each build in a process of its own. The last line is a JSON record. A part is what it takes of a build without.
import { execFileSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildSite, createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { makeTask } from '../packages/zinc-pantry/dist/bundle/render-task.js'
import { corpusSite } from './corpus-site.mjs'
import { median } from './record.mjs'

const [corpus = '.', kind = 'md', rounds = '5', way] = process.argv.slice(2)

/** Threads that are none: each question is answered at once, and its time and that of handing over are taken. */
function timedThreads() {
  const times = { tasks: 0, handing: 0, first: 0, last: 0 }
  const start = (_name, data) => {
    const task = makeTask(structuredClone(data), createNodeHost('.'))
    const hand = (value) => {
      const started = performance.now()
      const copy = structuredClone(value)
      times.handing += performance.now() - started
      return copy
    }
    let queue = Promise.resolve()
    const answer = async (question) => {
      times.first ||= performance.now()
      const own = hand(question)
      const run = await task
      const started = performance.now()
      const said = await run(own)
      times.tasks += performance.now() - started
      return hand(said)
    }
    return {
      isReady: true,
      pending: () => 0,
      // One after another, so that no time is taken twice.
      ask: (question) => (queue = queue.then(() => answer(question))),
      end: () => (times.last = performance.now()),
    }
  }
  return { times, threads: { count: 1, startAfterMs: createNodeHost('.').threads.startAfterMs, start } }
}

async function buildOnce() {
  const root = resolve(corpus)
  for (const folder of ['generated', '.pantry']) rmSync(join(root, folder), { recursive: true, force: true })
  const value = corpusSite(kind, process.env.COLOURS ? { highlight: true } : {})
  const node = createNodeHost(root)
  const { times, threads } = timedThreads()
  const count = Number(way)
  const host = {
    ...node,
    threads: way === 'timed' ? threads : { ...node.threads, count },
    loadConfiguration: async () => ({ kind: 'loaded', value, digest: 'corpus', inputs: ['pantry.config.ts'] }),
  }
  const started = performance.now()
  const { output } = await buildSite({ host, configurationFile: 'pantry.config.ts' })
  if (!output) throw new Error('Nothing was built')
  return { wall: performance.now() - started, ...times }
}

function run(...args) {
  const script = fileURLToPath(import.meta.url)
  const lines = execFileSync(process.execPath, [script, corpus, kind, '1', ...args], { encoding: 'utf8' })
  return JSON.parse(lines.trim().split('\n').at(-1))
}

/** The wall time of a build whose bodies so many threads render, where each has a core of its own. */
function predict({ wall, tasks, handing, first, last }, threads) {
  if (first === 0) return wall
  const phase = last - first
  // One side hands over, the other takes.
  const [own, theirs] = [phase - tasks - handing / 2, tasks + handing / 2]
  return wall - phase + Math.max(own, theirs / threads)
}

if (way) console.log(JSON.stringify(await buildOnce()))
else {
  const all = Array.from({ length: Number(rounds) }, () => ({
    ...{ none: run('0').wall, one: run('1').wall, two: run('2').wall },
    timed: run('timed'),
  }))
  const none = median(all.map((one) => one.none))
  const part = (ms) => Math.round((ms / none) * 100) / 100
  const share = (of) => part(median(all.map(({ timed }) => of(timed))))
  console.log(
    JSON.stringify({
      noneMs: Math.round(none),
      here: { one: part(median(all.map((one) => one.one))), two: part(median(all.map((one) => one.two))) },
      shares: {
        before: share(({ wall, first, last }) => (first === 0 ? wall : wall - (last - first))),
        meanwhile: share(({ tasks, handing, first, last }) => (first === 0 ? 0 : last - first - tasks - handing / 2)),
        rendering: share(({ tasks }) => tasks),
        handing: share(({ handing }) => handing),
      },
      model: Object.fromEntries([1, 2, 4, 6].map((threads) => [threads, share((timed) => predict(timed, threads))])),
    }),
  )
}
