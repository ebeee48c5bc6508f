/** Compiles the package and the page of its inspector, where they are not up to date. */
import { fileURLToPath } from 'node:url'
import { buildPackage } from './install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
await buildPackage()
