/** Checks, builds and queries the demo content, and shows what a newcomer would see. */
import { spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { buildPackage, installDependencies } from './install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
installDependencies()
buildPackage()

const command = fileURLToPath(new URL('../packages/zinc-pantry/bin/zinc-pantry.js', import.meta.url))
const colour = process.stdout.isTTY && !process.env.NO_COLOR
const bold = (text) => (colour ? `\u001b[1m${text}\u001b[22m` : text)

/** Runs a program in a folder after showing it as a person would type it. */
function show(folder, shown, args, expected = 0) {
  console.log(bold(`\n${folder} $ ${shown}`))
  const { status } = spawnSync(process.execPath, args, { stdio: 'inherit', cwd: folder })
  if (status !== expected) {
    console.error(`Exit code ${status}, expected ${expected}`)
    process.exit(1)
  }
}

const quoted = (word) => (/^[\w./,=-]+$/.test(word) ? word : `"${word}"`)
const zincPantry = (folder, args, expected) =>
  show(folder, `zinc-pantry ${args.map(quoted).join(' ')}`, [command, ...args], expected)

zincPantry('examples/fellmark', ['check'])
zincPantry('examples/fellmark', ['build'])
const where = 'grade != easy and legs some (hut.beds >= 20)'
zincPantry('examples/fellmark', [
  'query',
  'trails',
  '--where',
  where,
  '--sort',
  'region,-ascent',
  '--fields',
  'title,region.name,grade,ascent,legs.hut',
])
show('examples/fellmark', 'node weekend.mjs', ['weekend.mjs'])
zincPantry('examples/fellmark-mistakes', ['check'], 1)

console.log(`
The last command reads content with mistakes in it, of the kinds that people make.
Next: README.md, then examples/fellmark/pantry.config.ts.`)
