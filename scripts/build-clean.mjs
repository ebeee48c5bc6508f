/** Makes the package from nothing, with the documentation, so that no file of an older build is published. */
import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { buildPackage } from './install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
rmSync('packages/zinc-pantry/dist', { recursive: true, force: true })
rmSync('node_modules/.cache/zinc-pantry.tsbuildinfo', { force: true })
await buildPackage()
await import('./copy-documents.mjs')
