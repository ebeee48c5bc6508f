#!/usr/bin/env node
// What a build costs when little or nothing changed: beside a cold build, a walk over the files, and bare Node.
//
//   node bench/engine.mjs <corpus of 5,000> <corpus of 10,000> [edits=60]
//
// The last line printed is a JSON record. Times are medians in milliseconds.
import { execFileSync } from 'node:child_process'
import { appendFileSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { buildSite, createNodeHost, openSession } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { corpusSite } from './corpus-site.mjs'
import { writeQuerySite } from './query-corpus.mjs'
import { median } from './record.mjs'

const [small = '.', large = '.', edits = '60'] = process.argv.slice(2)
const configurationFile = 'pantry.config.ts'
const value = corpusSite('md')

/** A host whose configuration is that of the corpus. */
const hostOf = (root) => ({
  ...createNodeHost(root),
  loadConfiguration: async () => ({ kind: 'loaded', value, digest: 'corpus', inputs: [configurationFile] }),
})
const forget = (root) => {
  for (const folder of ['generated', '.pantry']) rmSync(join(root, folder), { recursive: true, force: true })
}
const round = (number) => Math.round(number * 100) / 100

/** Walks over files and asks for the state of each. */
function walk(folder) {
  let count = 0
  for (const item of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, item.name)
    if (item.isDirectory()) count += walk(path)
    else count += statSync(path).size > 0 ? 1 : 0
  }
  return count
}

async function unchanged() {
  const root = resolve(small)
  forget(root)
  const cold = await buildSite({ host: hostOf(root), configurationFile })
  const rounds = []
  for (let at = 0; at < 9; at++) {
    let started = performance.now()
    const files = walk(join(root, 'notes'))
    const walked = performance.now() - started
    started = performance.now()
    const again = await buildSite({ host: hostOf(root), configurationFile })
    if (again.writtenCount > 0 || files < again.fileCount) throw new Error('Something was done')
    rounds.push({ walked, again: performance.now() - started })
  }
  const [walked, again] = ['walked', 'again'].map((name) => median(rounds.map((one) => one[name])))
  return {
    files: cold.fileCount,
    coldMs: round(cold.milliseconds),
    walkMs: round(walked),
    againMs: round(again),
    timesTheWalk: round(again / walked),
  }
}

async function edited() {
  const root = resolve(large)
  forget(root)
  const host = hostOf(root)
  const session = openSession({ host, configurationFile })
  const cold = (await session.build(undefined)).report.milliseconds
  const files = host.list('notes').files.filter((file) => file.endsWith('.md'))
  const times = []
  for (let at = 0; at < Number(edits); at++) {
    const file = `notes/${files[(at * 97) % files.length]}`
    appendFileSync(join(root, file), `\n\nA few more words, ${at}.\n`)
    const started = performance.now()
    const built = await session.build([file])
    times.push(performance.now() - started)
    if (!built?.report.output) throw new Error('Nothing was built')
  }
  return {
    files: files.length,
    coldMs: round(cold),
    editMs: round(median(times)),
    ofTheCold: `1/${Math.round(cold / median(times))}`,
  }
}

/** An option of a field changed, of a collection of many files: in a session, and in a process of its own that has what was kept. */
async function changedOption() {
  const root = resolve(small)
  forget(root)
  let number = 200
  const host = {
    ...hostOf(root),
    async loadConfiguration() {
      const { settings } = corpusSite('md')
      const { notes } = settings.collections
      const { title } = notes.fields
      const fields = { ...notes.fields, title: { ...title, options: { ...title.options, maxLength: ++number } } }
      const own = { ...settings, collections: { notes: { ...notes, fields } } }
      return {
        kind: 'loaded',
        value: { ...value, settings: own },
        digest: `corpus ${number}`,
        inputs: [configurationFile],
      }
    },
  }
  const session = openSession({ host, configurationFile })
  const cold = (await session.build(undefined)).report.milliseconds
  const [inSession, once] = [[], []]
  for (let at = 0; at < 5; at++) {
    let started = performance.now()
    await session.build([configurationFile])
    inSession.push(performance.now() - started)
    started = performance.now()
    await buildSite({ host, configurationFile })
    once.push(performance.now() - started)
  }
  const ofTheCold = [inSession, once].map((times) => round(median(times) / cold))
  return { coldMs: round(cold), sessionMs: round(median(inSession)), onceMs: round(median(once)), ofTheCold }
}

/** One entry edited in a file of 10,000. */
async function editedRecord() {
  const root = resolve('node_modules/.cache/bench/records')
  rmSync(root, { recursive: true, force: true })
  writeQuerySite(root, 10_000, { isSearched: false })
  const file = 'content/notes/000.json'
  const session = openSession({ host: createNodeHost(root), configurationFile: 'pantry.config.mjs' })
  const cold = (await session.build(undefined)).report.milliseconds
  const records = JSON.parse(readFileSync(join(root, file), 'utf8'))
  const times = []
  for (let at = 0; at < 20; at++) {
    records[(at * 377) % records.length].title += ' again'
    writeFileSync(join(root, file), JSON.stringify(records))
    const started = performance.now()
    const built = await session.build([file])
    times.push(performance.now() - started)
    if (!built?.report.output) throw new Error('Nothing was built')
  }
  return { entries: records.length, coldMs: round(cold), editMs: round(median(times)) }
}

function start() {
  const bin = 'packages/zinc-pantry/bin/zinc-pantry.js'
  const commands = { bare: ['-e', '0'], help: [bin, '--help'], check: [bin, 'check', '--root', 'examples/fellmark'] }
  const time = (args) => {
    const started = performance.now()
    execFileSync(process.execPath, args, { stdio: 'ignore' })
    return performance.now() - started
  }
  time(commands.check)
  const rounds = Array.from({ length: 15 }, () => Object.entries(commands).map(([name, args]) => [name, time(args)]))
  const medians = Object.fromEntries(
    Object.keys(commands).map((name, at) => [name, median(rounds.map((one) => one[at][1]))]),
  )
  const { bare, help, check } = medians
  return { bareMs: round(bare), helpMoreMs: round(help - bare), warmCheckMoreMs: round(check - bare) }
}

console.log(
  JSON.stringify({
    start: start(),
    unchanged: await unchanged(),
    edited: await edited(),
    record: await editedRecord(),
    option: await changedOption(),
  }),
)
