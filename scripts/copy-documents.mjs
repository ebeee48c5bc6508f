/** Puts the documentation into the package, for those who install it: texts without pictures. */
import { cpSync, rmSync } from 'node:fs'
import { extname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const target = join(root, 'packages/zinc-pantry/docs')
rmSync(target, { recursive: true, force: true })
cpSync(join(root, 'docs'), target, {
  recursive: true,
  filter: (path) => !path.includes('screenshots') && ['', '.md'].includes(extname(path)),
})
