/** Runs a script of examples after everything they need: `example.mjs dev trail-guide`, `example.mjs build trail-guide hut-finder`. */
import { fileURLToPath } from 'node:url'
import { buildPackage, installDependencies, runProgram } from './install.mjs'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))
installDependencies()
await buildPackage()
const [script, ...examples] = process.argv.slice(2)
for (const example of examples) runProgram('npm', ['run', '--silent', script, '--workspace', example])
