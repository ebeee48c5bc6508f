// @ts-check
/** Builds the guide: scripts and styles, the pages as a module for Node, and then every page as a file. */
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { build } from 'vite'

const root = dirname(fileURLToPath(import.meta.url))
process.chdir(root)
const today = process.env.GUIDE_TODAY ?? new Date().toISOString().slice(0, 10)
const quiet = /** @type {const} */ ({ root, logLevel: 'warn' })

await build(quiet)
await build({
  ...quiet,
  build: {
    ssr: 'src/guide.ts',
    outDir: 'dist-pages',
    ssrEmitAssets: true,
    manifest: false,
    copyPublicDir: false,
    rolldownOptions: { input: 'src/guide.ts' },
  },
})
// Pictures of bodies come with the module that has the bodies.
if (existsSync('dist-pages/assets'))
  cpSync('dist-pages/assets', 'dist/assets', { recursive: true, filter: (path) => !path.endsWith('.js') })

const entry = JSON.parse(readFileSync('dist/.vite/manifest.json', 'utf8'))['src/client.ts']
const { createGuide } = await import(pathToFileURL(join(root, 'dist-pages/guide.js')).href)
const guide = createGuide({ today })
const links = { style: `/${entry.css[0]}`, script: `/${entry.file}` }
const paths = await guide.paths()
for (const path of paths) {
  const { text } = await guide.file(path, links)
  const file = join('dist', path.endsWith('/') ? `${path}index.html` : path)
  mkdirSync(dirname(file), { recursive: true })
  writeFileSync(file, text)
}
for (const folder of ['dist-pages', 'dist/.vite']) rmSync(folder, { recursive: true })
console.log(`${paths.length} files of the trail guide in examples/trail-guide/dist`)
