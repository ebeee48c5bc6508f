#!/usr/bin/env node
// The type check of a project with 10,000 literal ids and 20 queries, beside the same project without the types.
//
//   node bench/types.mjs [rounds=7]
//
// The last line printed is a JSON record; times are medians in milliseconds, the start of the compiler included.
import { spawnSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { buildSite, createNodeHost } from '../packages/zinc-pantry/dist/bundle/engine.js'
import { median } from './record.mjs'

const rounds = Number(process.argv[2] ?? 7)
const root = resolve('node_modules/.cache/bench/types')
const write = (path, text) => writeFileSync(join(root, path), text)
mkdirSync(join(root, 'content'), { recursive: true })
const idOf = (at) => `fells/${['north', 'tarn', 'bog', 'ridge', 'scree'][at % 5]}-${at}`
const notes = Array.from({ length: 10_000 }, (_, at) => ({ id: idOf(at), title: `T${at}`, near: idOf(at), height: at }))
write('content/notes.json', JSON.stringify(notes))
write(
  'pantry.config.mjs',
  `import { int, pantry, ref, text } from 'zinc-pantry'
export default pantry({ collections: { notes: { files: 'notes.json', entry: 'Note', fields: { title: text(), height: int(), near: ref('notes') } } } })
`,
)
write('package.json', JSON.stringify({ type: 'module', imports: { '#pantry': './generated/pantry/index.js' } }))
const { output } = await buildSite({ host: createNodeHost(root), configurationFile: 'pantry.config.mjs' })
if (!output) throw new Error('Nothing was written')
const queries = Array.from(
  { length: 20 },
  (_, at) => `export const found${at} = await notes
  .where((one) => one.title.is('T${at}').and(one.near.title.startsWith('T'), one.near.near.height.atLeast(${at})))
  .sort((one) => [one.height.descending(), one.near.title])
  .pick((one) => ({ title: one.title, near: one.near.title, deep: { height: one.near.near.height } }))
  .toArray()
export const title${at} = (await notes.byId('${idOf(at)}')).title
`,
).join('')
write('with.ts', `import { notes } from '#pantry'\n${queries}`)
const untyped = `interface Untyped { where(b: (one: any) => any): Untyped; sort(b: (one: any) => any): Untyped; pick(b: (one: any) => any): Untyped; toArray(): Promise<any>; byId(id: string): any }
declare const notes: Untyped
`
write('without.ts', untyped + queries)
for (const kind of ['with', 'without']) {
  const compilerOptions = {
    noEmit: true,
    strict: true,
    module: 'nodenext',
    target: 'es2022',
    skipLibCheck: true,
    types: [],
  }
  write(`tsconfig.${kind}.json`, JSON.stringify({ compilerOptions, files: [`${kind}.ts`] }))
}

function check(kind) {
  const started = performance.now()
  const { status, stdout } = spawnSync('node_modules/.bin/tsc', ['-p', join(root, `tsconfig.${kind}.json`)], {
    encoding: 'utf8',
  })
  if (status !== 0) throw new Error(stdout)
  return performance.now() - started
}
const times = Array.from({ length: rounds }, () => ({ without: check('without'), with: check('with') }))
const [plain, typed] = ['without', 'with'].map((kind) => Math.round(median(times.map((one) => one[kind]))))
const ratio = median(times.map((one) => one.with / one.without))
console.log(
  JSON.stringify({ ids: notes.length, queries: 20, without: plain, with: typed, ratio: Number(ratio.toFixed(2)) }),
)
