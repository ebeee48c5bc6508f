/** Checks, builds and queries the demo content, and shows what a newcomer would see. */
import { spawn, spawnSync } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import { buildPackage, installDependencies } from './install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
installDependencies()
await buildPackage()

const command = fileURLToPath(new URL('../packages/zinc-pantry/bin/zinc-pantry.js', import.meta.url))
const colour = process.stdout.isTTY && !process.env.NO_COLOR
const bold = (text) => (colour ? `\u001b[1m${text}\u001b[22m` : text)

// The bookings of the demo come over HTTP, from a stand-in for the booking service.
const service = spawn(process.execPath, ['stand-in/server.mjs'], {
  cwd: 'examples/fellmark',
  stdio: ['ignore', 'pipe', 'inherit'],
})
const [address] = await once(service.stdout, 'data')
const env = { ...process.env, FELLMARK_BOOKINGS: String(address).trim() }

/** Runs a program in a folder after showing it as a person would type it. */
function show(folder, shown, args, expected = 0) {
  console.log(bold(`\n${folder} $ ${shown}`))
  const { status } = spawnSync(process.execPath, args, { stdio: 'inherit', cwd: folder, env })
  if (status === expected) return
  console.error(`Exit code ${status}, expected ${expected}`)
  service.kill()
  process.exit(1)
}

const quoted = (word) => (/^[\w./,=-]+$/.test(word) ? word : `"${word}"`)
const zincPantry = (folder, args, expected) =>
  show(folder, `zinc-pantry ${args.map(quoted).join(' ')}`, [command, ...args], expected)

zincPantry('examples/fellmark-mistakes', ['check'], 1)
zincPantry('examples/fellmark', ['check'])
zincPantry('examples/fellmark', ['build'])
const where = 'grade != easy and legs some (hut.beds >= 20)'
const fields = 'title,region.name,grade,ascent,hours,legs.hut'
const asked = [
  '--where',
  where,
  '--sort',
  'region,-ascent',
  '--fields',
  fields,
  '--facets',
  'grade,region.name',
  '--plan',
]
zincPantry('examples/fellmark', ['query', 'trails', ...asked])
zincPantry('examples/fellmark', ['query', 'trails', '--search', 'rigde wind', '--fields', 'id,title,body.words'])
zincPantry('examples/fellmark', ['impact', 'huts/gable'])
zincPantry('examples/fellmark', ['rename', 'terrains/bog', 'mire', '--dry-run'])
show('examples/fellmark', 'node weekend.mjs', ['weekend.mjs'])
show('examples/fellmark', 'node pages.mjs', ['pages.mjs'])
service.kill()

console.log(`
The first command reads content with mistakes in it, of the kinds that people make; "zinc-pantry explain CODE" says more.
Next: README.md, then examples/fellmark/pantry.config.ts. To open the example applications, which are built with Vite:

  npm run dev:guide    a site of plain files on this content
  npm run dev:finder   a search over 50,000 notes, without a server

"npm run build:examples" builds both into their folders "dist".`)
