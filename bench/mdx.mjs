#!/usr/bin/env node
// MDX as our own code reads and writes it, beside the same with all left to the compiler: compiling alone by processor time, within
// one process, and whole cold builds, each in a process of its own. What comes out is compared to the byte.
//
//   node bench/mdx.mjs <corpus-dir> [rounds]       a corpus of generate-corpus.mjs, or any folder of MDX, of which only compiling is compared
import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { loadMdxCompiler } from '../packages/zinc-pantry/dist/body/mdx/mdx-compiler.js'
import { parseMdx } from '../packages/zinc-pantry/dist/body/mdx/parser/parse-mdx.js'
import { median } from './record.mjs'

const [corpus = '.', rounds = '5'] = process.argv.slice(2)
const plugins = { remark: [], rehype: [], headingId: undefined }
const own = await loadMdxCompiler(plugins, { hasMaps: false, isAlwaysCompiled: false })
const full = await loadMdxCompiler(plugins, { hasMaps: false, isAlwaysCompiled: true })
const output = { properties: [], rewrite: (href) => href, highlighter: undefined }
const compile = async (compiler, text) => (await compiler.compile(compiler.parse(text), text, output)).text

const texts = []
let refused = 0
let taken = 0
for (const path of readdirSync(corpus, { recursive: true }).filter((name) => /\.mdx?$/i.test(name))) {
  const text = readFileSync(join(corpus, path), 'utf8').replace(/^---\r?\n[\s\S]*?\n---\r?\n/, '')
  let code
  try {
    code = await compile(full, text)
  } catch {
    refused++
    continue
  }
  if ((await compile(own, text)) !== code) throw new Error(`${path} gives other code`)
  if (parseMdx(text)) taken++
  texts.push(text)
}
const processorTime = async (compiler) => {
  const before = process.cpuUsage()
  for (const text of texts) await compile(compiler, text)
  const { user, system } = process.cpuUsage(before)
  return (user + system) / 1000
}
const compared = []
for (let round = 0; round < Number(rounds); round++) {
  const [theirs, ours] = [await processorTime(full), await processorTime(own)]
  compared.push({ theirs, ours, ratio: theirs / ours })
}
console.log(`${texts.length} texts, ${taken} read by our own code, all with the same code; ${refused} are no MDX`)
report('compiling, processor time', compared)

if (existsSync(join(corpus, 'notes'))) {
  const script = fileURLToPath(new URL('./build.mjs', import.meta.url))
  const build = (variable) => {
    const environment = { ...process.env, ZINC_PANTRY_MDX: variable }
    const lines = execFileSync(process.execPath, [script, corpus, 'mdx'], { encoding: 'utf8', env: environment })
    return { ms: JSON.parse(lines.trim().split('\n').at(-1)).ms, digest: digestOf(join(corpus, 'generated')) }
  }
  const builds = Array.from({ length: Number(rounds) }, () => {
    const [theirs, ours] = [build('compiler'), build('')]
    if (theirs.digest !== ours.digest) throw new Error('The outputs are different')
    return { theirs: theirs.ms, ours: ours.ms, ratio: theirs.ms / ours.ms }
  })
  report('whole cold builds, the same output', builds)
}

function report(title, list) {
  const middle = (name) => median(list.map((one) => one[name]))
  console.log(
    `${title}: ${Math.round(middle('theirs'))} ms, ${Math.round(middle('ours'))} ms, ${middle('ratio').toFixed(2)} times as fast`,
  )
}

function digestOf(folder) {
  const hash = createHash('sha256')
  for (const path of readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .sort())
    hash.update(path).update(readFileSync(path))
  return hash.digest('hex')
}
