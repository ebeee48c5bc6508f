#!/usr/bin/env node
// What a writer waits for in an editor, over 10,000 entries: answers of the language server through the real protocol, beside a cold check.
//
//   node bench/editor.mjs [files=10000] [rounds=30]
//
// The last line printed is a JSON record: medians in milliseconds. The server and the checks are processes of their own.
import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { median } from './record.mjs'

const require = createRequire(resolve(import.meta.dirname, '../package.json'))
const { createMessageConnection, StreamMessageReader, StreamMessageWriter } = require('vscode-jsonrpc/node')
const [files, rounds] = [process.argv[2] ?? '10000', process.argv[3] ?? '30'].map(Number)
const packageFolder = resolve(import.meta.dirname, '../packages/zinc-pantry')
const command = join(packageFolder, 'bin/zinc-pantry.js')
const HUTS = files / 5

const CONFIGURATION = `import { date, list, pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: {
  huts: { files: 'huts/*.yaml', address: '/huts/{slug}/', fields: { name: text(), near: list(ref('huts'), { optional: true }) } },
  notes: { files: 'notes/*.md', body: true, address: '/notes/{slug}/', fields: { title: text(), hut: ref('huts'), on: date({ optional: true }) } },
} })
`

function makeSite(root) {
  for (const folder of ['content/huts', 'content/notes', 'node_modules'])
    mkdirSync(join(root, folder), { recursive: true })
  symlinkSync(packageFolder, join(root, 'node_modules/zinc-pantry'))
  writeFileSync(join(root, 'pantry.config.ts'), CONFIGURATION)
  for (let at = 0; at < HUTS; at++)
    writeFileSync(join(root, `content/huts/h${at}.yaml`), `name: Hut ${at}\nnear: [h${(at + 1) % HUTS}]\n`)
  for (let at = 0; at < files - HUTS; at++) {
    const body =
      `# Note ${at}\n\nSome words of ${at} on the [way](../huts/h${at % HUTS}.yaml), and more of them.\n`.repeat(3)
    writeFileSync(
      join(root, `content/notes/n${at}.md`),
      `---\ntitle: Note ${at}\nhut: ${at === 7 ? 'nowhere' : `h${at % HUTS}`}\n---\n${body}`,
    )
  }
}

/** The seconds of a cold check, as a process. */
function check(root) {
  rmSync(join(root, '.pantry'), { recursive: true, force: true })
  const started = performance.now()
  spawnSync(process.execPath, [command, 'check'], { cwd: root })
  return performance.now() - started
}

async function openServer(root) {
  const started = performance.now()
  const server = spawn(process.execPath, [command, 'language-server'], { cwd: root })
  const connection = createMessageConnection(
    new StreamMessageReader(server.stdout),
    new StreamMessageWriter(server.stdin),
  )
  const waiting = []
  connection.onNotification('textDocument/publishDiagnostics', (found) => {
    for (const resolve of waiting.splice(0)) resolve(found)
  })
  connection.listen()
  const uri = pathToFileURL(root).href
  await connection.sendRequest('initialize', {
    processId: process.pid,
    rootUri: uri,
    workspaceFolders: [{ uri, name: 'site' }],
    capabilities: {},
  })
  connection.sendNotification('initialized', {})
  const file = `${uri}/content/notes/n7.md`
  const text = readFileSync(join(root, 'content/notes/n7.md'), 'utf8')
  const told = new Promise((resolve) => waiting.push(resolve))
  connection.sendNotification('textDocument/didOpen', {
    textDocument: { uri: file, languageId: 'markdown', version: 1, text },
  })
  await told
  const firstMs = performance.now() - started
  let version = 1
  return {
    firstMs,
    text,
    ask: (method, position, more = {}) =>
      connection.sendRequest(`textDocument/${method}`, { textDocument: { uri: file }, position, ...more }),
    /** Types a text, and waits for the problems of the document. */
    async type(now) {
      const told = new Promise((resolve) => waiting.push(resolve))
      connection.sendNotification('textDocument/didChange', {
        textDocument: { uri: file, version: ++version },
        contentChanges: [{ text: now }],
      })
      await told
    },
    memory: () => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1]) / 1024,
    async stop() {
      await connection.sendRequest('shutdown')
      const ended = new Promise((resolve) => server.on('exit', resolve))
      await connection.sendNotification('exit')
      await ended
      connection.dispose()
    },
  }
}

async function measure(times, work) {
  const found = []
  for (let at = 0; at < times; at++) {
    const started = performance.now()
    await work(at)
    found.push(performance.now() - started)
  }
  return Math.round(median(found) * 10) / 10
}

/** The memory of a watch after as many edits. */
async function watch(root) {
  const watching = spawn(process.execPath, [command, 'build', '--watch'], { cwd: root })
  await new Promise((resolve) => watching.stdout.on('data', (text) => String(text).includes('Watching') && resolve()))
  for (let at = 0; at < rounds; at++) {
    writeFileSync(join(root, 'content/notes/n9.md'), `---\ntitle: Note ${at}\nhut: h1\n---\n# Note\n`)
    await new Promise((resolve) => setTimeout(resolve, 150))
  }
  const peak = Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${watching.pid}/status`, 'utf8'))?.[1]) / 1024
  const ended = new Promise((resolve) => watching.on('exit', resolve))
  watching.kill()
  await ended
  return peak
}

const root = mkdtempSync(join(tmpdir(), 'pantry-editor-'))
try {
  makeSite(root)
  const coldCheckMs = median([check(root), check(root), check(root)])
  rmSync(join(root, '.pantry'), { recursive: true, force: true })
  const cold = await openServer(root)
  await cold.stop()
  const server = await openServer(root)
  const { text } = server
  const position = { line: 2, character: 5 }
  const keystrokeMs = await measure(rounds, (at) =>
    server.type(text.replace('nowhere', at % 2 === 0 ? 'now' : 'nowhere')),
  )
  const bodyKeystrokeMs = await measure(rounds, (at) =>
    server.type(`${text.replace('nowhere', 'now'.repeat(1 + (at % 2)))}\nmore ${at}`),
  )
  const referenceMs = await measure(rounds, () => server.ask('completion', position))
  await server.type(text.replace('nowhere', 'elsewhere'))
  const link = text.indexOf('../huts')
  const lines = text.slice(0, link).split('\n')
  const linkAt = { line: lines.length - 1, character: lines.at(-1).length + 4 }
  const hoverMs = await measure(rounds, () => server.ask('hover', linkAt))
  const linkMs = await measure(rounds, () => server.ask('completion', linkAt))
  const usesMs = await measure(5, () => server.ask('references', linkAt, { context: { includeDeclaration: true } }))
  const renameMs = await measure(3, () => server.ask('rename', linkAt, { newName: 'crag' }))
  const megabytes = Math.round(server.memory())
  await server.stop()
  // A site with a problem has no output, which would be much of what a watch holds.
  writeFileSync(join(root, 'content/notes/n7.md'), text.replace('nowhere', 'h7'))
  const watchMegabytes = Math.round(await watch(root))
  const round = (number) => Math.round(number * 100) / 100
  console.log(
    JSON.stringify({
      files,
      coldCheckMs: Math.round(coldCheckMs),
      coldFirstMs: Math.round(cold.firstMs),
      timesACheck: round(cold.firstMs / coldCheckMs),
      cachedFirstMs: Math.round(server.firstMs),
      keystrokeMs,
      bodyKeystrokeMs,
      referenceMs,
      hoverMs,
      linkMs,
      usesMs,
      renameMs,
      megabytes,
      watchMegabytes,
      timesAWatch: round(megabytes / watchMegabytes),
    }),
  )
} finally {
  rmSync(root, { recursive: true, force: true })
}
